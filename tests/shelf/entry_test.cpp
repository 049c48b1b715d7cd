// SPDX-License-Identifier: Apache-2.0
#include "shelf/entry.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;
using Words = std::vector<std::string>;

TEST(ShelfEntries, FilesSayWhatTheyAre) {
  EXPECT_EQ(kindOfFile("a/evening.JPG"), ShelfKind::reference);
  EXPECT_EQ(kindOfFile("dusk.look.toml"), ShelfKind::look);
  EXPECT_EQ(kindOfFile("dusk.cube"), ShelfKind::look);
  EXPECT_EQ(kindOfFile("gate.recipe.toml"), ShelfKind::recipe);
  EXPECT_EQ(kindOfFile("oil.painter.onnx"), ShelfKind::painter);
  EXPECT_EQ(kindOfFile("sky.svg"), ShelfKind::mask);
  EXPECT_FALSE(kindOfFile("notes.txt"));
  EXPECT_FALSE(kindOfFile("defaults.toml"));
  for (const char* kind : {"reference", "swatch", "mask", "look", "recipe", "painter"})
    EXPECT_EQ(kindWord(kindOfWord(kind)), kind);
  EXPECT_NE(complaint([] { kindOfWord("song"); }).find("\"song\""), std::string::npos);
}

TEST(ShelfEntries, AreNamedAfterTheirFiles) {
  EXPECT_EQ(nameForFile("pictures/evening.jpg"), "evening");
  EXPECT_EQ(nameForFile("dusk.look.toml"), "dusk");
  EXPECT_EQ(nameForFile("my best@3=gate.png"), "my_best_3_gate");
  EXPECT_EQ(nameForFile("-x.png"), "_-x");
  for (const char* file : {"evening.jpg", "a b.png", "-x.png", ".png.png"}) {
    EXPECT_EQ(complaint([&] { requireName(nameForFile(file)); }), "accepted") << file;
  }
}

TEST(ShelfEntries, NamesAreNotTakenForSomethingElse) {
  for (const char* name : {"", "a b", "a@2", "tag:night", "a/b", "2s=a", "-x", ".x", "a,b", "\xff"})
    EXPECT_NE(complaint([&] { requireName(name); }), "accepted") << name;
}

TEST(ShelfEntries, LabelsAreWords) {
  EXPECT_EQ(labelWords({"oil, night", "Oil,,wet wash"}), (Words{"oil", "night", "wet wash"}));
  EXPECT_NE(complaint([] { labelWords({"a=b"}); }), "accepted");
}

}  // namespace
}  // namespace jugendstil
