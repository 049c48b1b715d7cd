// SPDX-License-Identifier: Apache-2.0
#include "report/shelf_page.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/base64.h"
#include "base/markup.h"
#include "report/template.h"

namespace jugendstil {

namespace {

// So many at once, that a browser can show some while it reads the others.
constexpr std::size_t kBatch = 50;

std::string picturesText(const std::vector<ShelfCard>& cards) {
  std::string out;
  for (std::size_t first = 0; first < cards.size(); first += kBatch) {
    out += "<script>arrive(" + std::to_string(first) + ",[";
    for (std::size_t i = first; i < std::min(cards.size(), first + kBatch); ++i)
      out += "\"" + base64Of(cards[i].thumbnail) + "\",";
    out += "])</script>\n";
  }
  return out;
}

}  // namespace

std::string shelfPage(const std::string& title, const std::vector<ShelfCard>& cards) {
  nlohmann::json list = nlohmann::json::array();
  for (const ShelfCard& card : cards) {
    list.push_back({{"name", card.name},
                    {"kind", card.kind},
                    {"picture", !card.thumbnail.empty()},
                    {"file", card.file},
                    {"about", card.about},
                    {"note", card.note},
                    {"option", card.option},
                    {"tags", card.tags},
                    {"albums", card.albums}});
  }
  const std::string json = list.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
  return filledTemplate(kShelfPage, {{"@TITLE@", escapedMarkup(title)},
                                     {"@CARDS@", scriptText(json)},
                                     {"@PICTURES@", picturesText(cards)}});
}

}  // namespace jugendstil
