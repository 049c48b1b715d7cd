// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_words.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

TEST(RecipeWords, NameReferencesWithSharesAndParts) {
  std::vector<RecipeInput> references{{"/references/lino.png", "", 1}};
  EXPECT_EQ(referenceWords(references), "lino.png");
  references.push_back({"/references/oil.png", "", 3});
  EXPECT_EQ(referenceWords(references, {{{"/masks/sky.svg", "", 1}, {"/references/mosaic.png", "", 1}}}),
            "lino.png @1 and oil.png @3, mosaic.png under sky.svg");
  EXPECT_EQ(referenceWords({}), "");
}

TEST(RecipeWords, NameTheSideOfAMask) {
  EXPECT_EQ(maskWords(RecipeMask{{"/masks/sky.png", "", 1}, false}), "outside sky.png");
  EXPECT_EQ(maskWords({}), "");
}

}  // namespace
}  // namespace jugendstil
