// SPDX-License-Identifier: Apache-2.0
#include "support/browser.h"

#include <gtest/gtest.h>

#include <cstdlib>

#include "support/support.h"

namespace testing_support {

namespace fs = std::filesystem;

std::string inBrowser(std::string page, const std::string& script, const std::string& window,
                      const fs::path& beside) {
  const TemporaryFolder folder;
  const std::string end = "</body>";
  page.insert(page.rfind(end), "<pre id=\"told\"></pre><script>" + script + "</script>");
  const fs::path file = (beside.empty() ? folder.path : beside) / "page_under_test.html";
  writeContent(file, page);
  const std::string command =
      "chromium --headless --no-sandbox --disable-gpu --disable-dev-shm-usage "
      "--virtual-time-budget=4000 --window-size=" +
      window + " --user-data-dir='" + (folder / "profile").string() + "' --dump-dom 'file://" +
      file.string() + "' > '" + (folder / "dom").string() + "' 2> '" + (folder / "log").string() + "'";
  if (std::system(command.c_str()) != 0)
    ADD_FAILURE() << "Chromium is needed to test the page: " << contentOf(folder / "log");
  const std::string dom = contentOf(folder / "dom");
  const std::string begin = "<pre id=\"told\">";
  const auto from = dom.find(begin);
  if (from == std::string::npos) return dom;
  return dom.substr(from + begin.size(), dom.find("</pre>", from) - from - begin.size());
}

}  // namespace testing_support
