// SPDX-License-Identifier: Apache-2.0
#include "report/template.h"

namespace jugendstil {

std::string filledTemplate(std::string_view page,
                           const std::vector<std::pair<std::string_view, std::string>>& marks) {
  std::string out;
  while (!page.empty()) {
    std::size_t next = page.size();
    const std::pair<std::string_view, std::string>* first = nullptr;
    for (const auto& mark : marks) {
      const std::size_t found = page.find(mark.first);
      if (found >= next) continue;
      next = found;
      first = &mark;
    }
    out += page.substr(0, next);
    if (first == nullptr) break;
    out += first->second;
    page.remove_prefix(next + first->first.size());
  }
  return out;
}

std::string scriptText(std::string json) {
  for (std::size_t at = 0; (at = json.find('<', at)) != std::string::npos; at += 6)
    json.replace(at, 1, "\\u003c");
  return json;
}

}  // namespace jugendstil
