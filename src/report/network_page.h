// SPDX-License-Identifier: Apache-2.0
// One page for a browser, complete in itself, that shows a network layer by layer.
#pragma once

#include <string>
#include <utility>
#include <vector>

namespace jugendstil {

// The text of network_page.html, put in by the build.
extern const char* const kNetworkPage;

struct NetworkRow {
  std::vector<std::string> cells;
  double share = 0;    // of the most work that a layer takes, drawn as a bar
  std::string band;    // that is tapped here; may be empty
  bool stage = false;  // the first of a stage: a line is drawn above
};

// `facts` are names and what is to be said of them. Whatever stands in texts is text there.
std::string networkPage(const std::string& title,
                        const std::vector<std::pair<std::string, std::string>>& facts,
                        const std::vector<std::string>& columns, const std::vector<NetworkRow>& rows);

}  // namespace jugendstil
