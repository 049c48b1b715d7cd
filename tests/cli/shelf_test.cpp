// SPDX-License-Identifier: Apache-2.0
// `shelf`, and its names in other commands, driven from outside.
#include "shelf/shelf.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <csignal>
#include <nlohmann/json.hpp>
#include <thread>

#include "image/picture_file.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;
using Words = std::vector<std::string>;

class ShelfProgram : public testing::Test {
 protected:
  void SetUp() override {
    fs::create_directories(folder / "refs");
    writePicture(folder / "gate.png", sample(64, 48), Depth::eight);
    writePicture(folder / "refs/evening.png", sample(60, 60, 5), Depth::eight);
    writePicture(folder / "refs/dawn.png", sample(60, 60, 6), Depth::eight);
  }
  testing_support::Surroundings around() const {
    testing_support::Surroundings s;
    s.environment = {"XDG_DATA_HOME=" + (folder / "data").string()};
    return s;
  }
  RunResult run(const Words& words) const {
    return testing_support::runProgram(words, folder.path, around());
  }
  void expectError(const Words& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part, around());
  }
  Words painting(const Words& more) const {
    Words words{"paint", "gate.png", "--steps", "2", "--levels", "1", "--brushwork=no"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }
  fs::path shelfFolder() const { return folder / "data/jugendstil/shelf"; }

  testing_support::TemporaryFolder folder;
};

TEST_F(ShelfProgram, AddsListsFindsAndForgets) {
  RunResult r = run({"shelf", "add", "refs", "--tag", "oil,night", "--album", "Posters"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("evening (reference): added"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("2 entries put on the shelf"), std::string::npos) << r.out;
  r = run({"shelf", "tag", "evening", "--without", "oil", "--note", "for rain", "--name", "dusk"});
  EXPECT_NE(r.out.find("dusk  reference  60x60      night, album Posters  \"for rain\""), std::string::npos)
      << r.out;
  EXPECT_EQ(run({"shelf", "find", "rai", "nig"}).out, r.out);
  EXPECT_EQ(run({"shelf", "find", "--tag", "oil", "--json"}).out.find("{\"albums\":[\"Posters\"]"), 0U);
  const auto json = nlohmann::json::parse(run({"shelf", "find", "dusk", "--json"}).out);
  EXPECT_EQ(json["file"], fs::absolute(folder / "refs/evening.png").string());
  r = run({"shelf", "forget", "dusk"});
  EXPECT_NE(r.out.find("no longer on the shelf"), std::string::npos) << r.out;
  EXPECT_TRUE(fs::exists(folder / "refs/evening.png"));
  EXPECT_EQ(run({"shelf", "list", "--json"}).out.find("dusk"), std::string::npos);
}

TEST_F(ShelfProgram, ItsNamesStandForFiles) {
  run({"shelf", "add", "refs", "--tag", "oil"});
  RunResult r = run(painting({"--after", "evening@2", "-o", "out.png"}));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.err.find("evening: " + fs::absolute(folder / "refs/evening.png").string() + ", from the shelf"),
            std::string::npos)
      << r.err;
  EXPECT_NE(contentOf(folder / "out.recipe.toml").find("refs/evening.png"), std::string::npos);
  // All that have a tag, each by itself.
  r = run(painting({"--after", "tag:oil", "-o", "table/"}));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_TRUE(fs::exists(folder / "table/gate-after-dawn.png")) << r.out;
  EXPECT_TRUE(fs::exists(folder / "table/gate-after-evening.png")) << r.out;
}

TEST_F(ShelfProgram, AFileOfThatNameGoesFirst) {
  run({"shelf", "add", "refs"});
  fs::create_directory(folder / "evening");
  expectError(painting({"--after", "evening", "-o", "out.png"}), 1, "evening");
  EXPECT_EQ(run(painting({"--after", "evening", "-o", "out.png"})).err.find("from the shelf"),
            std::string::npos);
}

TEST_F(ShelfProgram, RanksWhatSuitsAPhotoAndPaintsItAtOnceAfterEach) {
  // One is the photo's own picture, one of a single colour.
  writePicture(folder / "refs/alike.png", readPicture(folder / "gate.png").image, Depth::eight);
  writePicture(folder / "refs/flat.png", Image(60, 60, 3, 0.9F), Depth::eight);
  run({"shelf", "add", "refs"});
  const RunResult r = run({"shelf", "suits", "gate.png"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.out.find(" 1  alike"), 0U) << r.out;
  EXPECT_NE(r.out.find(" 4  flat     smoother than what goes on in the photo"), std::string::npos) << r.out;
  const RunResult one = run({"shelf", "suits", "gate.png", "--most", "1", "--json"});
  const auto json = nlohmann::json::parse(one.out);
  EXPECT_EQ(json["name"], "alike");
  EXPECT_NE(json["why"].get<std::string>().find("near in colour"), std::string::npos) << one.out;
  const RunResult sheet = run({"shelf", "suits", "gate.png", "--most", "2", "-o", "suits.png"});
  ASSERT_EQ(sheet.code, 0) << sheet.err;
  EXPECT_GT(readPicture(folder / "suits.png").image.width, 1000);
  expectError({"shelf", "suits"}, 2, "shelf suits PHOTO");
  expectError({"shelf", "suits", "gate.png", "--tag", "none"}, 1, "no reference");
  expectError({"shelf", "suits", "gate.png", "-o", "suits.pdf"}, 2, ".png");
}

TEST_F(ShelfProgram, WithoutAPlaceForItItSaysSo) {
  const testing_support::Surroundings nowhere{"", "", 0, {"XDG_DATA_HOME=/proc/none"}};
  testing_support::expectError({"shelf", "add", "refs"}, folder.path, 1, "cannot make /proc/none", nowhere);
  testing_support::expectError({"shelf", "list"}, folder.path, 1, "there is no shelf in", nowhere);
}

TEST_F(ShelfProgram, SaysWhatIsWrongInOneLine) {
  expectError({"shelf"}, 2, "needs an action");
  expectError({"shelf", "list"}, 1, "no shelf in");
  run({"shelf", "add", "refs"});
  expectError({"shelf", "fnd"}, 2, "did you mean find");
  expectError({"shelf", "add", "gone.png"}, 1, "gone.png");
  expectError({"shelf", "tag", "evnening", "--tag", "a"}, 1, "did you mean evening");
  expectError({"shelf", "tag", "evening"}, 2, "--tag");
  expectError({"shelf", "tag", "evening", "--name", "dawn"}, 1, "already");
  expectError({"shelf", "find", "--colour", "blue"}, 2, "#204060");
  expectError({"shelf", "sheet"}, 2, "-o shelf.png");
  expectError({"shelf", "page", "-o", "page.pdf"}, 2, ".html");
  expectError({"shelf", "import", "gate.png"}, 1, "zip archive");
  expectError(painting({"--after", "evenig", "-o", "out.png"}), 2, "did you mean evening?");
  expectError(painting({"--after", "tag:wash", "-o", "out/"}), 2, "has the tag \"wash\"");
  fs::remove(folder / "refs/evening.png");
  expectError(painting({"--after", "evening", "-o", "out.png"}), 1, "shelf check");
  writeContent(shelfFolder() / "shelf.db", std::string(5000, 'x'));
  expectError({"shelf", "list"}, 1, "is damaged");
}

TEST_F(ShelfProgram, SheetPageAndArchive) {
  run({"shelf", "add", "refs"});
  EXPECT_EQ(run({"shelf", "sheet", "-o", "sheet.png"}).code, 0);
  EXPECT_GT(readPicture(folder / "sheet.png").image.width, 500);
  EXPECT_EQ(run({"shelf", "page", "-o", "page.html"}).code, 0);
  EXPECT_NE(contentOf(folder / "page.html").find("--after evening"), std::string::npos);
  expectError({"shelf", "page", "-o", "page.html"}, 1, "--force");
  EXPECT_EQ(run({"shelf", "export", "evening", "-o", "one.zip"}).code, 0);
  const RunResult r = run({"shelf", "import", "one.zip", "--shelf", "other"});
  EXPECT_EQ(r.out, "evening (reference): added\n") << r.err;
  EXPECT_TRUE(Shelf(folder / "other").named("evening"));
  fs::rename(folder / "refs", folder / "moved");
  expectError({"shelf", "check"}, 1, "2 entries cannot be read; jugendstil shelf check FOLDER");
  EXPECT_NE(run({"shelf", "check", "moved"}).out.find("evening: found again"), std::string::npos);
  EXPECT_EQ(run({"shelf", "check"}).code, 0);
}

TEST_F(ShelfProgram, WhatIsLeftOutIsOneLineAndTheRestIsDone) {
  writeContent(folder / "refs/broken.png", "no picture");
  const RunResult added = run({"shelf", "add", "refs", "-q"});
  EXPECT_EQ(added.code, 1);
  EXPECT_EQ(added.err.rfind("jugendstil: left out: ", 0), 0U) << added.err;
  EXPECT_NE(added.err.find("broken.png"), std::string::npos) << added.err;
  EXPECT_EQ(std::count(added.err.begin(), added.err.end(), '\n'), 1) << added.err;
  fs::remove(folder / "refs/dawn.png");
  const RunResult exported = run({"shelf", "export", "-q", "-o", "all.zip"});
  EXPECT_EQ(exported.code, 1);
  EXPECT_EQ(exported.err.rfind("jugendstil: left out: dawn, whose file ", 0), 0U) << exported.err;
  EXPECT_EQ(std::count(exported.err.begin(), exported.err.end(), '\n'), 1) << exported.err;
  EXPECT_EQ(run({"shelf", "import", "all.zip", "--shelf", "other"}).out, "evening (reference): added\n");
}

TEST_F(ShelfProgram, KilledWhileAddingWhatWasToldIsThere) {
  for (unsigned i = 0; i < 90; ++i)
    writePicture(folder / ("refs/p" + std::to_string(i) + ".png"), sample(120, 90, i), Depth::eight);
  const auto begun = [&] {
    if (!Shelf::standsIn(shelfFolder())) return false;
    try {
      return Shelf(shelfFolder()).names().size() >= 64;
    } catch (const Error&) {  // it is just being made
      return false;
    }
  };
  testing_support::runAndSignalWhen({"shelf", "add", "refs", "--shelf", shelfFolder().string()}, folder.path,
                                    begun, SIGKILL);
  const std::size_t there = Shelf(shelfFolder()).names().size();
  EXPECT_GE(there, 64U);
  EXPECT_TRUE(there == 64 || there == 92) << there;  // batches are whole
  EXPECT_EQ(run({"shelf", "add", "refs", "--quiet"}).code, 0);
  EXPECT_EQ(Shelf(shelfFolder()).names().size(), 92U);
}

TEST_F(ShelfProgram, TwoAddAtOnce) {
  for (unsigned i = 0; i < 60; ++i)
    writePicture(folder / ("refs/p" + std::to_string(i) + ".png"), sample(64, 48, i), Depth::eight);
  std::thread other([&] { run({"shelf", "add", "refs", "--quiet"}); });
  const RunResult r = run({"shelf", "add", "refs", "--quiet"});
  other.join();
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(Shelf(shelfFolder()).names().size(), 62U);
}

}  // namespace
}  // namespace jugendstil
