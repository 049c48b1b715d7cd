// SPDX-License-Identifier: Apache-2.0
#include "report/network_page.h"

#include <fmt/format.h>

#include "base/markup.h"
#include "report/template.h"

namespace jugendstil {

std::string networkPage(const std::string& title,
                        const std::vector<std::pair<std::string, std::string>>& facts,
                        const std::vector<std::string>& columns, const std::vector<NetworkRow>& rows) {
  std::string said;
  for (const auto& [name, text] : facts)
    said += fmt::format("<dt>{}</dt><dd>{}</dd>\n", escapedMarkup(name), escapedMarkup(text));
  std::string head;
  for (const std::string& column : columns)
    head += fmt::format("<th scope=\"col\">{}</th>", escapedMarkup(column));
  std::string body;
  for (const NetworkRow& row : rows) {
    body += fmt::format("<tr class=\"{}{}\">", row.stage ? "stage " : "", row.band.empty() ? "" : "tapped");
    for (const std::string& cell : row.cells) body += fmt::format("<td>{}</td>", escapedMarkup(cell));
    body += fmt::format("<td><span class=\"bar\" style=\"width:{:.1f}%\"></span></td>", 100 * row.share);
    body += fmt::format("<td>{}</td></tr>\n", escapedMarkup(row.band));
  }
  return filledTemplate(
      kNetworkPage,
      {{"@TITLE@", escapedMarkup(title)}, {"@FACTS@", said}, {"@HEAD@", head}, {"@ROWS@", body}});
}

}  // namespace jugendstil
