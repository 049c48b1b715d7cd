// SPDX-License-Identifier: Apache-2.0
// Pages as a browser shows them.
#pragma once

#include <filesystem>
#include <string>

namespace testing_support {

// What the script put into the element "told" of the page, in headless Chromium with a window like
// "1280,800"; the script stands behind the page's own. Files that the page refers to lie in `beside`.
std::string inBrowser(std::string page, const std::string& script, const std::string& window,
                      const std::filesystem::path& beside = {});

}  // namespace testing_support
