// SPDX-License-Identifier: Apache-2.0
#include "shelf/adding.h"

#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "image/resample.h"
#include "shelf/checking.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::complaint;
using testing_support::contentOf;
using testing_support::refusal;
using testing_support::sample;
using testing_support::writeContent;

class ShelfAdding : public testing::Test {
 protected:
  ShelfAdding() {
    fs::create_directories(folder / "pictures/deep");
    write("pictures/evening.png", 1);
    write("pictures/deep/gate.png", 2);
    writeContent(folder / "pictures/notes.txt", "no picture");
    writeContent(folder / "pictures/broken.png", "no picture either");
    writeContent(folder / "pictures/dusk.look.toml", "look = 1\n");
  }
  void write(const char* name, unsigned seed) const {
    writePicture(folder / name, sample(300, 200, seed), Depth::eight);
  }
  std::vector<AddedFile> add(const std::vector<fs::path>& files, const Adding& how = {}) {
    std::vector<AddedFile> all;
    addFiles(shelf, files, how, [&](const AddedFile& one) { all.push_back(one); });
    return all;
  }
  std::vector<CheckedEntry> check(const std::vector<fs::path>& folders = {}) {
    std::vector<CheckedEntry> all;
    checkShelf(shelf, folders, [&](const CheckedEntry& one) { all.push_back(one); });
    return all;
  }

  testing_support::TemporaryFolder folder;
  Shelf shelf{folder.path / "shelf"};
};

TEST_F(ShelfAdding, FoldersAreWalkedAndWhatIsBrokenIsTold) {
  Adding how;
  how.tags = {"oil"};
  const auto files = filesMeant({folder / "pictures"});
  ASSERT_EQ(files.size(), 4U);
  const auto added = add(files, how);
  EXPECT_EQ(added[0].as, AddedAs::failed);
  EXPECT_NE(added[0].trouble.find("broken.png"), std::string::npos);
  const auto evening = shelf.named("evening");
  ASSERT_TRUE(evening);
  EXPECT_EQ(evening->width, 300);
  EXPECT_EQ(evening->tags, std::vector<std::string>{"oil"});
  const EntryLook look = shelf.lookOf(evening->id);
  const Image thumbnail = decodedJpeg(look.thumbnail);
  EXPECT_EQ(thumbnail.width, kShelfEdge);
  EXPECT_LT(testing_support::distance(thumbnail, resizePhoto(sample(300, 200, 1), 256, thumbnail.height)),
            1e-3);
  EXPECT_EQ(shelf.named("dusk")->kind, ShelfKind::look);
  EXPECT_TRUE(shelf.named("gate"));
}

TEST_F(ShelfAdding, WhatIsThereIsNotPutThereAgain) {
  const fs::path file = folder / "pictures/evening.png";
  add({file});
  Adding more;
  more.tags = {"night"};
  EXPECT_EQ(add({file}, more)[0].as, AddedAs::known);
  EXPECT_EQ(shelf.named("evening")->tags, std::vector<std::string>{"night"});
  fs::copy_file(file, folder / "copy.png");
  EXPECT_EQ(add({folder / "copy.png"})[0].as, AddedAs::copy);
  Adding other;
  other.name = "dawn";
  EXPECT_EQ(add({folder / "copy.png"}, other)[0].as, AddedAs::copy);
  EXPECT_EQ(shelf.names(), std::vector<std::string>{"evening"});
  fs::remove(file);
  EXPECT_EQ(add({folder / "copy.png"})[0].as, AddedAs::moved);
  EXPECT_EQ(shelf.named("evening")->path, fs::absolute(folder / "copy.png"));
  write("copy.png", 9);
  EXPECT_EQ(add({folder / "copy.png"})[0].as, AddedAs::changed);
}

TEST_F(ShelfAdding, NamesAreGivenOnce) {
  add({folder / "pictures/evening.png"});
  write("evening.png", 7);
  add({folder / "evening.png"});
  EXPECT_TRUE(shelf.named("evening-2"));
  Adding how;
  how.name = "evening";
  EXPECT_NE(complaint([&] { add({folder / "pictures/deep/gate.png"}, how); }).find("already"),
            std::string::npos);
  how.name = "dawn";
  add({folder / "pictures/evening.png"}, how);
  EXPECT_EQ(shelf.named("dawn")->path, fs::absolute(folder / "pictures/evening.png"));
  EXPECT_FALSE(shelf.named("evening"));
}

TEST_F(ShelfAdding, KeptFilesMayGo) {
  const fs::path file = folder / "pictures/evening.png";
  const std::string content = contentOf(file);
  Adding how;
  how.keep = true;
  add({file}, how);
  fs::remove(file);
  const auto entry = shelf.named("evening");
  EXPECT_TRUE(entry->kept);
  EXPECT_EQ(contentOf(entry->path), content);
}

TEST_F(ShelfAdding, SaysWhatCannotBeAdded) {
  EXPECT_NE(refusal([&] { filesMeant({folder / "gone.png"}); }).find("gone.png"), std::string::npos);
  EXPECT_NE(refusal([&] { filesMeant({folder / "pictures/notes.txt"}); }).find("nothing that a shelf holds"),
            std::string::npos);
  fs::create_directory(folder / "empty");
  EXPECT_NE(complaint([&] { filesMeant({folder / "empty"}); }), "accepted");
}

TEST_F(ShelfAdding, CheckingFindsWhatMovedChangedOrWent) {
  add(filesMeant({folder / "pictures/evening.png", folder / "pictures/deep/gate.png"}));
  for (const CheckedEntry& one : check()) EXPECT_EQ(one.condition, Condition::fine);
  fs::create_directories(folder / "elsewhere/far");
  fs::rename(folder / "pictures/evening.png", folder / "elsewhere/far/e.png");
  write("pictures/deep/gate.png", 5);
  const std::string before = measureBytes(*shelf.lookOf(shelf.named("gate")->id).measures);
  auto checked = check();
  EXPECT_EQ(checked[0].condition, Condition::missing);
  EXPECT_EQ(checked[1].condition, Condition::changed);
  EXPECT_NE(measureBytes(*shelf.lookOf(shelf.named("gate")->id).measures), before);
  checked = check({folder / "elsewhere"});
  EXPECT_EQ(checked[0].condition, Condition::found);
  EXPECT_EQ(checked[0].from, fs::absolute(folder / "pictures/evening.png"));
  EXPECT_EQ(shelf.named("evening")->path, fs::absolute(folder / "elsewhere/far/e.png"));
  for (const CheckedEntry& one : check()) EXPECT_EQ(one.condition, Condition::fine);
}

}  // namespace
}  // namespace jugendstil
