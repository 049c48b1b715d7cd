// SPDX-License-Identifier: Apache-2.0
#include "base/words.h"

#include <gtest/gtest.h>

#include "base/file_name.h"
#include "base/markup.h"

namespace jugendstil {
namespace {

TEST(Words, TheNearestIsOfferedAndNothingFarFetched) {
  const std::vector<std::string> known{"likeness", "lightness", "stroke"};
  EXPECT_EQ(nearestWord("likness", known), "likeness");
  EXPECT_EQ(nearestWord("lihgtness", known), "lightness");
  EXPECT_EQ(nearestWord("storke", known), "stroke");
  EXPECT_EQ(nearestWord("emphasis", known), "");
  EXPECT_EQ(nearestWord("likeness", {}), "");
}

TEST(Markup, NothingEscapesIntoTheLanguage) {
  EXPECT_EQ(escapedMarkup("<b class=\"x\"> & Söhne"), "&lt;b class=&quot;x&quot;&gt; &amp; Söhne");
}

TEST(FileName, ExtensionsAreReadInSmallLetters) {
  EXPECT_EQ(extensionOf("/a.b/POND.JpG"), ".jpg");
  EXPECT_EQ(extensionOf("/a.b/pond"), "");
}

TEST(Words, OnOneLineNothingIsObeyed) {
  EXPECT_EQ(onOneLine("a\x1b[2Jb\nc\x7f"), "a [2Jb c ");
  EXPECT_EQ(onOneLine("Größe 3_2"), "Größe 3_2");
  EXPECT_EQ(harmless("a\x1b]0;b\x07\r\nc\td"), "a ]0;b  \nc\td");
  EXPECT_EQ(harmless("\xC2\x9B"
                     "31m \xC2\xA9"),
            "  31m \xC2\xA9");
}

}  // namespace
}  // namespace jugendstil
