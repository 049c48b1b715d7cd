// SPDX-License-Identifier: Apache-2.0
#include "report/comparison_page.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "base/base64.h"
#include "base/error.h"
#include "base/markup.h"
#include "image/picture_file.h"
#include "report/template.h"

namespace jugendstil {
namespace {

std::string tableText(const NumberTable& table) {
  if (table.rows.empty()) return {};
  std::string out = fmt::format("<p>{}</p><table><thead><tr><th></th>", escapedMarkup(table.caption));
  for (const std::string& column : table.columns) out += fmt::format("<th>{}</th>", escapedMarkup(column));
  out += "</tr></thead><tbody>";
  for (const NumberTable::Row& row : table.rows) {
    out += fmt::format("<tr><th>{}</th>", escapedMarkup(row.name));
    for (const std::string& cell : row.cells) out += fmt::format("<td>{}</td>", escapedMarkup(cell));
    out += "</tr>";
  }
  return out + "</tbody></table>";
}

}  // namespace

std::string comparisonPage(const std::string& title, const std::vector<NamedPicture>& pictures,
                           const NumberTable& numbers) {
  if (pictures.size() < 2) throw Error("a page that compares needs two pictures or more");
  nlohmann::json list = nlohmann::json::array();
  for (const NamedPicture& p : pictures) {
    const Image& first = pictures.front().picture;
    if (p.picture.width != first.width || p.picture.height != first.height)
      throw Error(fmt::format("{} has not the size of {}", p.name, pictures.front().name));
    list.push_back({{"name", p.name},
                    {"note", p.note},
                    {"width", p.picture.width},
                    {"height", p.picture.height},
                    {"data", "data:image/png;base64," + base64Of(encodedPng(p.picture, Depth::eight))}});
  }
  return filledTemplate(
      kComparisonPage,
      {{"@TITLE@", escapedMarkup(title)},
       {"@NUMBERS@", tableText(numbers)},
       {"@PICTURES@", scriptText(list.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace))}});
}

}  // namespace jugendstil
