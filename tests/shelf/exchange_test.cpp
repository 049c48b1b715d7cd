// SPDX-License-Identifier: Apache-2.0
#include "shelf/exchange.h"

#include <gtest/gtest.h>

#include "base/zip.h"
#include "image/picture_file.h"
#include "support/full_disk.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::refusal;
using testing_support::sample;
using testing_support::writeContent;

class ShelfExchange : public testing::Test {
 protected:
  ShelfExchange() {
    writePicture(folder / "evening.png", sample(60, 40), Depth::eight);
    writeContent(folder / "dusk.look.toml", "look = 1\n");
    Adding how;
    how.tags = {"oil"};
    how.albums = {"A"};
    how.note = "for \"rain\"";
    addFiles(shelf, {folder / "evening.png", folder / "dusk.look.toml"}, how, [](const AddedFile&) {});
  }
  std::vector<ShelfEntry> all() const {
    std::vector<ShelfEntry> entries;
    for (const FoundEntry& one : shelf.find({})) entries.push_back(one.entry);
    return entries;
  }
  static std::string importTrouble(const fs::path& archive, const fs::path& into) {
    return refusal([&] {
      Shelf other(into);
      importShelf(other, archive, [](const AddedFile&) {});
    });
  }

  testing_support::TemporaryFolder folder;
  Shelf shelf{folder.path / "one"};
};

TEST_F(ShelfExchange, AnotherShelfHasThemAll) {
  const fs::path archive = folder / "shelf.zip";
  EXPECT_EQ(exportShelf(all(), archive).entries, 2U);
  const std::string picture = contentOf(folder / "evening.png");
  fs::remove(folder / "evening.png");
  Shelf other(folder.path / "two");
  importShelf(other, archive, [](const AddedFile& one) { EXPECT_EQ(one.as, AddedAs::fresh); });
  const auto evening = other.named("evening");
  ASSERT_TRUE(evening);
  EXPECT_EQ(contentOf(evening->path), picture);
  EXPECT_EQ(evening->note, "for \"rain\"");
  EXPECT_EQ(evening->tags, std::vector<std::string>{"oil"});
  EXPECT_EQ(evening->width, 60);
  EXPECT_EQ(other.named("dusk")->kind, ShelfKind::look);
  importShelf(other, archive, [](const AddedFile& one) { EXPECT_EQ(one.as, AddedAs::known); });
  EXPECT_EQ(other.names().size(), 2U);
  // A file that is gone comes back.
  importShelf(shelf, archive, [](const AddedFile&) {});
  EXPECT_EQ(contentOf(shelf.named("evening")->path), picture);
  EXPECT_EQ(shelf.names().size(), 2U);
}

TEST_F(ShelfExchange, WhatIsMissingIsLeftOutAndTold) {
  fs::remove(folder / "evening.png");
  const Exported exported = exportShelf(all(), folder / "shelf.zip");
  EXPECT_EQ(exported.entries, 1U);
  ASSERT_EQ(exported.left.size(), 1U);
  EXPECT_EQ(exported.left[0].name, "evening");
}

TEST_F(ShelfExchange, DamageIsTold) {
  const fs::path archive = folder / "shelf.zip";
  exportShelf(all(), archive);
  const std::string whole = contentOf(archive);
  writeContent(folder / "cut.zip", whole.substr(0, whole.size() / 2));
  EXPECT_NE(importTrouble(folder / "cut.zip", folder / "two").find("cut.zip"), std::string::npos);
  std::string changed = whole;
  changed[whole.size() / 2] ^= 1;
  writeContent(folder / "changed.zip", changed);
  EXPECT_NE(importTrouble(folder / "changed.zip", folder / "two"), "accepted");
  EXPECT_TRUE(Shelf(folder / "two").names().empty());
  writeContent(folder / "text.zip", "no archive");
  EXPECT_NE(importTrouble(folder / "text.zip", folder / "two").find("zip archive"), std::string::npos);
}

TEST_F(ShelfExchange, NothingIsWrittenOutsideTheShelf) {
  const std::string entry =
      R"({"name": "NAME", "kind": "look", "file": "FILE", "checksum": "", "note": "", "tags": [], "albums": [], "added": 0})";
  const auto archiveWith = [&](const std::string& name, const std::string& file) {
    std::string one = entry;
    one.replace(one.find("NAME"), 4, name);
    one.replace(one.find("FILE"), 4, file);
    ZipWriter zip(folder / "bad.zip", "bad.zip");
    zip.add("shelf.json", "{\"shelf\": 1, \"entries\": [" + one + "]}");
    zip.add(file, "look = 1\n");
    zip.finish();
    return importTrouble(folder / "bad.zip", folder / "two");
  };
  EXPECT_NE(archiveWith("../../evil", "files/a.look.toml"), "accepted");
  EXPECT_NE(archiveWith("evil", "../../evil.look.toml"), "accepted");
  EXPECT_FALSE(fs::exists(folder / "evil.look.toml"));
}

TEST_F(ShelfExchange, AFullDiskIsTold) {
  testing_support::expectFullDiskIsTold(
      "shelf.zip", [&](const fs::path& file) { exportShelf(all(), file); }, 2048);
}

}  // namespace
}  // namespace jugendstil
