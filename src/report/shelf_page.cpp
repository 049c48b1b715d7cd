// SPDX-License-Identifier: Apache-2.0
#include "report/shelf_page.h"

#include <nlohmann/json.hpp>

#include "base/base64.h"
#include "base/markup.h"
#include "report/template.h"

namespace jugendstil {

std::string shelfPage(const std::string& title, const std::vector<ShelfCard>& cards) {
  nlohmann::json list = nlohmann::json::array();
  for (const ShelfCard& card : cards) {
    list.push_back({{"name", card.name},
                    {"kind", card.kind},
                    {"picture", card.thumbnail.empty() ? "" : base64Of(card.thumbnail)},
                    {"file", card.file},
                    {"about", card.about},
                    {"note", card.note},
                    {"option", card.option},
                    {"tags", card.tags},
                    {"albums", card.albums}});
  }
  const std::string json = list.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
  return filledTemplate(kShelfPage, {{"@TITLE@", escapedMarkup(title)}, {"@CARDS@", scriptText(json)}});
}

}  // namespace jugendstil
