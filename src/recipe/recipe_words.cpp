// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_words.h"

#include <fmt/format.h>

namespace jugendstil {

std::string referenceWords(const std::vector<RecipeInput>& references, const std::vector<RecipePart>& parts) {
  std::string text;
  for (const RecipeInput& r : references) {
    text += (text.empty() ? "" : " and ") + r.path.filename().string();
    if (references.size() > 1) text += fmt::format(" @{}", r.share);
  }
  for (const RecipePart& p : parts) {
    text += fmt::format("{}{} under {}", text.empty() ? "" : ", ", p.reference.path.filename().string(),
                        p.mask.path.filename().string());
  }
  return text;
}

std::string holdWords(const std::vector<RecipeHold>& holds) {
  std::string text;
  for (const RecipeHold& h : holds)
    text += fmt::format("{} {} {}", text.empty() ? "holding" : " and",
                        h.mask ? h.mask->path.filename().string() : "faces", h.likeness);
  return text;
}

std::string maskWords(const std::optional<RecipeMask>& mask) {
  if (!mask) return {};
  return (mask->inside ? "inside " : "outside ") + mask->file.path.filename().string();
}

}  // namespace jugendstil
