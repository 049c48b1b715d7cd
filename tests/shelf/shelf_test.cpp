// SPDX-License-Identifier: Apache-2.0
#include "shelf/shelf.h"

#include <gtest/gtest.h>

#include "image/colour.h"
#include "support/full_disk.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::messageOf;
using testing_support::refusal;
using testing_support::sample;
using testing_support::writeContent;

ShelfEntry entryNamed(const std::string& name, std::vector<std::string> tags = {}) {
  ShelfEntry entry;
  entry.name = name;
  entry.path = "/pictures/" + name + ".jpg";
  entry.checksum = "sum of " + name;
  entry.tags = std::move(tags);
  return entry;
}

Image flat(float red, float green, float blue) {
  Image picture(40, 30, 3);
  for (std::size_t i = 0; i < picture.area(); ++i) {
    picture.pixel(i)[0] = red;
    picture.pixel(i)[1] = green;
    picture.pixel(i)[2] = blue;
  }
  return picture;
}

std::vector<std::string> namesOf(const std::vector<FoundEntry>& found) {
  std::vector<std::string> names;
  for (const FoundEntry& one : found) names.push_back(one.entry.name);
  return names;
}

using Names = std::vector<std::string>;

class Shelves : public testing::Test {
 protected:
  std::int64_t put(const ShelfEntry& entry, const Image& picture = {}) {
    EntryLook look;
    if (!picture.empty()) look = {"a thumbnail", measuresOf(picture)};
    return shelf.put(entry, look);
  }
  Names found(const ShelfSearch& search) const { return namesOf(shelf.find(search)); }
  Names withWords(const std::string& words) const {
    ShelfSearch search;
    search.words = words;
    return found(search);
  }

  testing_support::TemporaryFolder folder;
  Shelf shelf{folder.path / "shelf"};
};

TEST_F(Shelves, GiveBackWhatWasPutThere) {
  ShelfEntry entry = entryNamed("evening", {"oil", "night"});
  entry.kind = ShelfKind::swatch;
  entry.path = fs::path("/pictures/\xff\xfe.png");  // no UTF-8
  entry.bytes = 5000000000;
  entry.width = 640;
  entry.height = 480;
  entry.note = "for rain";
  entry.albums = {"Posters A"};
  entry.kept = true;
  put(entry, sample(40, 30));
  const auto back = Shelf(folder.path / "shelf").named("EVENING");
  ASSERT_TRUE(back);
  EXPECT_EQ(back->name, "evening");
  EXPECT_EQ(back->kind, ShelfKind::swatch);
  EXPECT_EQ(back->path, entry.path);
  EXPECT_EQ(back->bytes, entry.bytes);
  EXPECT_EQ(back->width, 640);
  EXPECT_EQ(back->note, "for rain");
  EXPECT_EQ(back->tags, (Names{"night", "oil"}));
  EXPECT_EQ(back->albums, (Names{"Posters A"}));
  EXPECT_TRUE(back->kept);
  EXPECT_EQ(shelf.lookOf(back->id).thumbnail, "a thumbnail");
  EXPECT_TRUE(shelf.lookOf(back->id).measures);
  EXPECT_FALSE(shelf.named("evenin"));
}

TEST_F(Shelves, FindWordsThatAreBegunWithoutAccents) {
  ShelfEntry rain = entryNamed("silver_rain", {"grey"});
  rain.note = "Gl\xc3\xa4ser am Abend";
  put(rain);
  put(entryNamed("evening", {"oil"}));
  EXPECT_EQ(withWords("rai"), (Names{"silver_rain"}));
  EXPECT_EQ(withWords("glas abend"), (Names{"silver_rain"}));
  EXPECT_EQ(withWords("oil"), (Names{"evening"}));
  EXPECT_EQ(withWords("oil rain"), Names{});
  // What a search's own language would take for something else.
  EXPECT_EQ(withWords("\"rain* AND (NOT"), Names{});
  EXPECT_EQ(withWords(""), (Names{"evening", "silver_rain"}));
}

TEST_F(Shelves, FindByTagsAlbumsAndKind) {
  ShelfEntry both = entryNamed("both", {"oil", "night"});
  both.albums = {"A"};
  put(both);
  ShelfEntry look = entryNamed("look", {"oil"});
  look.kind = ShelfKind::look;
  put(look);
  ShelfSearch search;
  search.tags = {"OIL"};
  EXPECT_EQ(found(search), (Names{"both", "look"}));
  search.tags = {"oil", "night"};
  EXPECT_EQ(found(search), (Names{"both"}));
  search.tags = {"oil"};
  search.kind = ShelfKind::look;
  EXPECT_EQ(found(search), (Names{"look"}));
  search = {};
  search.albums = {"A"};
  EXPECT_EQ(found(search), (Names{"both"}));
}

TEST_F(Shelves, ChangesReachTheSearch) {
  ShelfEntry entry = entryNamed("evening", {"oil"});
  entry.id = put(entry);
  entry.name = "dusk";
  entry.tags = {"wash"};
  shelf.change(entry);
  EXPECT_EQ(withWords("evening oil"), Names{});
  EXPECT_EQ(withWords("dusk wash"), (Names{"dusk"}));
  shelf.forget(entry.id);
  EXPECT_EQ(withWords("dusk"), Names{});
  EXPECT_TRUE(shelf.names().empty());
}

TEST_F(Shelves, SortByColourAndByLikeness) {
  put(entryNamed("red"), flat(0.8F, 0.1F, 0.1F));
  put(entryNamed("blue"), flat(0.1F, 0.2F, 0.7F));
  put(entryNamed("night"), flat(0.05F, 0.08F, 0.25F));
  put(entryNamed("text"));
  ShelfSearch search;
  search.colour = oklabOf({srgbToLinear(0.1F), srgbToLinear(0.2F), srgbToLinear(0.7F)});
  EXPECT_EQ(found(search)[0], "blue");
  search = {};
  search.like = measuresOf(flat(0.06F, 0.09F, 0.27F));
  EXPECT_EQ(found(search), (Names{"night", "blue", "red"}));
  search.most = 1;
  EXPECT_EQ(found(search), (Names{"night"}));
}

TEST_F(Shelves, NamesAreUnlikeOneAnother) {
  put(entryNamed("evening"));
  EXPECT_EQ(shelf.freeName("Evening"), "Evening-2");
  EXPECT_EQ(shelf.freeName("dusk"), "dusk");
  EXPECT_NE(refusal([&] { put(entryNamed("EVENING")); }), "accepted");
}

TEST_F(Shelves, TwoAtOnceDoNotDisturbOneAnother) {
  Shelf other(folder.path / "shelf");
  Transaction transaction(shelf.database());
  put(entryNamed("evening"));
  EXPECT_TRUE(other.names().empty());  // reads on while another writes
  transaction.commit();
  EXPECT_EQ(other.names(), (Names{"evening"}));
  other.put(entryNamed("dusk"), {});
  EXPECT_EQ(shelf.names(), (Names{"dusk", "evening"}));
}

TEST_F(Shelves, WhatWasNotFinishedIsTakenBack) {
  {
    Transaction transaction(shelf.database());
    put(entryNamed("evening"));
  }
  EXPECT_TRUE(shelf.names().empty());
}

TEST_F(Shelves, AFullDiskLosesNothing) {
  put(entryNamed("evening"), sample(40, 30));
  {
    const testing_support::FileSizeLimit limit(100000);
    const std::string told = messageOf<DiskError>([&] {
      for (int i = 0; i < 500; ++i) put(entryNamed("name" + std::to_string(i)), sample(40, 30));
    });
    EXPECT_NE(told.find("shelf.db"), std::string::npos) << told;
  }
  EXPECT_TRUE(shelf.named("evening"));
  put(entryNamed("later"));
  EXPECT_TRUE(Shelf(folder.path / "shelf").named("later"));
}

TEST(ShelfFiles, ADamagedOneIsTold) {
  const testing_support::TemporaryFolder folder;
  writeContent(folder / "shelf.db", "this is no database, but long enough to be taken for one, perhaps");
  const std::string told = refusal([&] { Shelf{folder.path}; });
  EXPECT_NE(told.find("shelf.db is damaged"), std::string::npos) << told;
  EXPECT_NE(told.find("import what was exported"), std::string::npos) << told;
}

TEST(ShelfFiles, AnotherDatabaseIsLeftAlone) {
  const testing_support::TemporaryFolder folder;
  Database(folder / "shelf.db").run("CREATE TABLE songs (title TEXT)");
  EXPECT_NE(refusal([&] { Shelf{folder.path}; }).find("something else"), std::string::npos);
}

TEST(ShelfFiles, ANewerOneIsLeftAlone) {
  const testing_support::TemporaryFolder folder;
  { Shelf shelf(folder.path); }
  Database(folder / "shelf.db").run("PRAGMA user_version = 999");
  EXPECT_NE(refusal([&] { Shelf{folder.path}; }).find("newer jugendstil"), std::string::npos);
}

}  // namespace
}  // namespace jugendstil
