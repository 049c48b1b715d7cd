// SPDX-License-Identifier: Apache-2.0
// The words of the command line: what each is taken for, spellings, places, help.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>
#include <sstream>

#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;

bool holds(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

class CommandWords : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(60, 44), Depth::eight);
    writePicture(folder / "other.png", sample(60, 44, 2), Depth::eight);
    for (const char* name : {"a.png", "b.png", "c.png"})
      writePicture(folder / name, sample(50, 40, static_cast<unsigned>(name[0])), Depth::eight);
  }

  RunResult run(const std::vector<std::string>& words,
                const std::vector<std::string>& environment = {}) const {
    return testing_support::runProgram(words, folder.path, {"", "", 0, environment});
  }
  // Standard output of a run that must go well.
  std::string told(const std::vector<std::string>& words,
                   const std::vector<std::string>& environment = {}) const {
    const RunResult r = run(words, environment);
    EXPECT_EQ(r.code, 0) << r.err;
    return r.out;
  }
  void makeClip(int frames) const {
    testing_support::ClipRecipe recipe;
    recipe.width = 48;
    recipe.height = 32;
    recipe.frames = frames;
    testing_support::writeClip(folder / "clip.mkv", recipe, testing_support::gliding(48, 32, 1, 0));
  }
  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }

  testing_support::TemporaryFolder folder;
};

// --- What is taken for what.

TEST_F(CommandWords, AllWordsBehindAfterAreReferences) {
  const std::string paint = told({"paint", "photo.png", "--after", "a.png", "b.png@2", "c.png", "-o",
                                  "out.png", "--steps", "1", "--dry-run"});
  EXPECT_TRUE(holds(paint, "  photo photo.png\n  after a.png @1\n  after b.png @2\n  after c.png @1\n"))
      << paint;
  const std::string grade =
      told({"grade", "photo.png", "-o", "out.png", "--dry-run", "-a", "a.png", "b.png"});
  EXPECT_TRUE(holds(grade, "  after a.png @1\n  after b.png @1\n")) << grade;
  makeClip(2);
  const std::string film = told({"film", "clip.mkv", "-a", "a.png", "b.png", "-o", "out.mkv", "--dry-run"});
  EXPECT_TRUE(holds(film, "  clip clip.mkv\n  after a.png @1\n  after b.png @1\n")) << film;
  // Several photos stand before it.
  const std::string table = told({"paint", "photo.png", "other.png", "--after", "a.png", "b.png", "--each",
                                  "-o", "drafts/", "--steps", "1", "--dry-run"});
  EXPECT_TRUE(holds(table, "4 paintings and drafts/sheet.png")) << table;
}

TEST_F(CommandWords, APhotoBehindTheReferencesIsMissedAloud) {
  expectError({"paint", "--after", "a.png", "photo.png", "-o", "out.png"}, 2,
              "words behind --after (a.png, photo.png) were taken as references, so put photos before it");
  expectError({"grade", "--after", "a.png", "photo.png", "-o", "out.png"}, 2, "put photos before it");
  expectError({"film", "--after", "a.png", "clip.mkv", "-o", "out.mkv"}, 2, "taken as references");
}

TEST_F(CommandWords, DryRunsShowOnlyWhatIsUnusual) {
  const std::string usual = told({"paint", "photo.png", "--after", "a.png", "-o", "out.png", "--dry-run"});
  EXPECT_TRUE(holds(usual, "  everything as usual\n")) << usual;
  EXPECT_FALSE(holds(usual, "likeness")) << usual;
  const std::string other =
      told({"paint", "photo.png", "--after", "a.png", "-o", "out.png", "--likeness", "20", "--dry-run"});
  EXPECT_TRUE(holds(other, "  likeness 20\n  everything else as usual\n")) << other;
}

TEST_F(CommandWords, DryRunsOfFilmsShowTheirProofAndKeys) {
  makeClip(12);
  const std::string proof =
      told({"film", "clip.mkv", "--after", "a.png", "-o", "out.mkv", "--proof", "--steps", "1", "--dry-run"});
  EXPECT_TRUE(holds(proof, ": 8 frames at ")) << proof;
  EXPECT_TRUE(holds(proof, "would write out.proof.mkv")) << proof;
  writePicture(folder / "key.png", sample(48, 32), Depth::eight);
  const std::string keyed = told({"film", "clip.mkv", "--key", "3=key.png", "-o", "out.mkv", "--dry-run"});
  EXPECT_TRUE(holds(keyed, "  key at frame 3: key.png\n")) << keyed;
}

TEST_F(CommandWords, DryRunsLookAtThePlace) {
  testing_support::writeContent(folder / "out.png", "mine");
  expectError({"paint", "photo.png", "--after", "a.png", "-o", "out.png", "--dry-run"}, 1, "exists already");
  makeClip(2);
  expectError(
      {"film", "clip.mkv", "--after", "a.png", "-o", "clip2.mkv/x.mkv", "--chart", "out.png", "--dry-run"}, 1,
      "exists already");
  // The system's own folders allow nobody to write, also not root.
  expectError({"paint", "photo.png", "--after", "a.png", "-o", "/proc/out.png", "--dry-run"}, 1,
              "cannot write");
  expectError({"grade", "photo.png", "--after", "a.png", "-o", "/proc/out.png", "--dry-run"}, 1,
              "cannot write");
  expectError({"mask", "photo.png", "--all", "-o", "/proc/out.png", "--dry-run"}, 1, "cannot write");
}

// --- One rule for -o.

TEST_F(CommandWords, AFolderOrASlashMeansAFolderInEveryCommand) {
  const std::vector<std::string> paint{"paint",   "photo.png", "--after",        "a.png",
                                       "--steps", "1",         "--brushwork=no", "-q"};
  const auto written = [&](std::vector<std::string> words, const std::string& output,
                           const std::string& file) {
    words.insert(words.end(), {"-o", output});
    const RunResult r = run(words);
    EXPECT_EQ(r.code, 0) << r.err;
    EXPECT_TRUE(std::filesystem::exists(folder / file)) << file;
  };
  std::filesystem::create_directory(folder / "there");
  written(paint, "there", "there/photo.png");
  written(paint, "new/deep/", "new/deep/photo.png");
  written({"grade", "photo.png", "--after", "a.png", "-q"}, "graded/", "graded/photo.png");
  written({"grade", "photo.png", "other.png", "--after", "a.png", "-q"}, "both", "both/other.png");
  written({"mask", "photo.png", "--all", "-q"}, "there", "there/photo-mask.png");
  written({"compare", "photo.png", "other.png", "-q"}, "there", "there/comparison.html");
  written({"compare", "photo.png", "other.png", "--view", "sheet", "-q"}, "there", "there/comparison.png");
  makeClip(2);
  written({"film", "clip.mkv", "--grade", "--after", "a.png", "-q"}, "frames/", "frames/frame_00001.png");
  written({"grade", "photo.png", "--after", "a.png", "--save-look", "dusk.look.toml", "-q"}, "there/g.png",
          "dusk.look.toml");
  written({"look", "dusk.look.toml", "-q"}, "looks/", "looks/dusk.look.toml");
  // A folder is no way to replace the photo.
  expectError({"paint", "photo.png", "--after", "a.png", "--force", "-o", "."}, 2, "would replace the photo");
}

// --- For other programs.

// The events of a run, each of which says what all have in common.
std::vector<nlohmann::json> eventsOf(const RunResult& r) {
  std::vector<nlohmann::json> events;
  std::istringstream lines(r.out);
  for (std::string line; std::getline(lines, line);) {
    events.push_back(nlohmann::json::parse(line));
    const nlohmann::json& event = events.back();
    if (event.at("event") != "progress") continue;
    EXPECT_GE(event.at("done"), 0.0) << line;
    EXPECT_LE(event.at("done"), 1.0) << line;
    EXPECT_TRUE(event.at("elapsed").is_number()) << line;
    EXPECT_TRUE(event.at("remaining").is_null() || event.at("remaining") >= 0) << line;
  }
  return events;
}

TEST_F(CommandWords, EventsHaveOneVocabulary) {
  makeClip(2);
  const std::vector<std::vector<std::string>> commands{
      {"paint", "photo.png", "--after", "a.png", "--steps", "2", "-o", "out.png"},
      {"grade", "photo.png", "other.png", "--after", "a.png", "-o", "graded/"},
      {"film", "clip.mkv", "--after", "a.png", "--steps", "2", "--frame-steps", "1", "-o", "film.mkv"}};
  for (std::vector<std::string> words : commands) {
    words.insert(words.end(), {"--progress", "json"});
    const RunResult r = run(words);
    const auto events = eventsOf(r);
    ASSERT_GE(events.size(), 2U) << words[0] << ": " << r.err;
    EXPECT_EQ(events.front().at("event"), "progress") << words[0];
    EXPECT_EQ(events.back().at("event"), "done") << words[0];
    // The second time it is there already.
    const RunResult again = run(words);
    EXPECT_EQ(again.code, 1);
    const auto error = eventsOf(again).back();
    EXPECT_EQ(error.at("event"), "error") << words[0];
    EXPECT_EQ(error.at("code"), 1);
    EXPECT_TRUE(holds(error.at("message"), "exists already")) << error;
    EXPECT_TRUE(holds(again.err, error.at("message"))) << again.err;
  }
}

TEST_F(CommandWords, HistoryGivesItsSettingsAsAnObject) {
  told({"paint", "photo.png", "--after", "a.png", "--steps", "1", "--likeness", "30", "-q", "-o", "out.png"});
  const auto past = nlohmann::json::parse(told({"history", ".", "--json"}));
  EXPECT_EQ(past.at("settings"), (nlohmann::json{{"likeness", 30}, {"steps", "1"}}));
}

// --- Help.

// Of every command, with two worked examples at least.
void expectFittingHelp(const std::string& help, std::size_t columns, const std::string& command) {
  std::istringstream lines(help);
  std::size_t examples = 0;
  for (std::string line; std::getline(lines, line);) {
    EXPECT_LE(line.size(), columns) << command << ": " << line;
    EXPECT_FALSE(line.ends_with(' ')) << line;
    examples += line.starts_with("  jugendstil ") ? 1 : 0;
  }
  EXPECT_GE(examples, 2U) << command;
}

TEST_F(CommandWords, HelpFitsTheTerminalAndIsWrittenAsOneTypesIt) {
  for (const char* command : {"paint", "film", "grade", "mask", "look", "compare", "history", "demo", "redo"})
    expectFittingHelp(told({command, "--help"}, {"COLUMNS=50"}), 50, command);
  const std::string help = told({"paint", "--help"});
  expectFittingHelp(help, 100, "paint");
  EXPECT_TRUE(holds(help, "\n  -o, --output OUT")) << help;
  EXPECT_TRUE(holds(help, "\n  --brushwork[=yes|no]")) << help;
  EXPECT_FALSE(holds(help, "[ --")) << help;
}

TEST_F(CommandWords, HelpKeepsItsExplanationsInOneColumn) {
  for (const char* columns : {"100", "60"}) {
    const RunResult r = testing_support::runProgram({"grade", "--help"}, folder.path,
                                                    {"", "", 0, {std::string("COLUMNS=") + columns}});
    const std::size_t at = r.out.find("--look LOOK");
    const std::size_t column = r.out.find("apply a saved look", at) - r.out.rfind('\n', at);
    const std::size_t after = r.out.find("-a, --after REF[@SHARE]...");
    ASSERT_NE(after, std::string::npos) << r.out;
    const std::size_t words = r.out.find("references, all", after);
    EXPECT_EQ(words - r.out.rfind('\n', words), column) << r.out;
  }
}

TEST_F(CommandWords, HelpIsShortOrWholeAndKnowsCommands) {
  const std::string whole = told({"paint", "--help"});
  const std::string brief = told({"paint", "-h"});
  EXPECT_LT(brief.size(), whole.size() / 3);
  EXPECT_TRUE(holds(brief, "--likeness")) << brief;
  EXPECT_TRUE(holds(brief, "--help says what each does")) << brief;
  EXPECT_EQ(told({"help", "paint"}), whole);
  EXPECT_EQ(told({"-V"}), told({"--version"}));
  expectError({"help", "paimt"}, 2, "paint");
}

TEST_F(CommandWords, MistakesAreAnsweredByMeaning) {
  expectError({"paint", "photo.png", "--after", "a.png", "--likeness", "3", "--likeness", "4", "-o", "x.png"},
              2, "--likeness is given twice");
  expectError({"paint", "photo.png", "--style", "a.png", "-o", "x.png"}, 2, "did you mean --after?");
  expectError({"paint", "photo.png", "--afte", "a.png", "-o", "x.png"}, 2, "did you mean --after?");
  expectError({"paint", "photo.png", "--size", "300", "-o", "x.png"}, 2, "did you mean --long-edge?");
  // What is merely spelled a little alike is no answer.
  const RunResult r = run({"history", ".", "--part", "m.png=a.png"});
  EXPECT_EQ(r.code, 2);
  EXPECT_FALSE(holds(r.err, "did you mean")) << r.err;
}

// --- Scales and spellings.

TEST_F(CommandWords, SharesMayBePercentages) {
  const auto painted = [&](const std::string& opacity) {
    EXPECT_EQ(run({"paint", "photo.png", "--after", "a.png", "--steps", "1", "--brushwork=no", "--opacity",
                   opacity, "-q", "--force", "-o", "out.png"})
                  .code,
              0);
    return contentOf(folder / "out.png");
  };
  const std::string share = painted("0.7");
  EXPECT_EQ(painted("70"), share);
  EXPECT_EQ(painted("70%"), share);
  EXPECT_NE(painted("1"), share);
  expectError({"paint", "photo.png", "--after", "a.png", "--opacity", "170%", "-o", "x.png"}, 2,
              "share from 0 to 1 or from 0% to 100%");
}

TEST_F(CommandWords, SpellingsThatMeanTheSame) {
  const auto dry = [&](const std::string& option, const std::string& value) {
    return told({"paint", "photo.png", "--after", "a.png", option, value, "-o", "x.png", "--dry-run"});
  };
  for (const char* size : {"2G", "2GB", "2g", "2gb", "2GiB"})
    EXPECT_TRUE(holds(dry("--memory", size), "memory 2048M")) << size;
  EXPECT_TRUE(holds(dry("--blend", "colour-burn"), "blend color-burn"));
  const auto mask = [&](const std::string& option, const std::string& colour) {
    told({"mask", "photo.png", option, colour, "-q", "--force", "-o", "m.png"});
    return contentOf(folder / "m.png");
  };
  const std::string whole = mask("--colour", "#aabbcc@20");
  EXPECT_EQ(mask("--color", "#aabbcc@20"), whole);
  EXPECT_EQ(mask("--colour", "#abc@20"), whole);
  const auto graded = [&](const std::string& match) {
    told({"grade", "photo.png", "--after", "a.png", "--match", match, "-q", "--force", "-o", "g.png"});
    return contentOf(folder / "g.png");
  };
  EXPECT_EQ(graded("color"), graded("colour"));
}

TEST_F(CommandWords, DepthAndQualityOfPictures) {
  writePicture(folder / "deep.png", sample(60, 44), Depth::sixteen);
  const auto written = [&](const std::string& command, const std::string& photo, const std::string& output,
                           const std::vector<std::string>& more) {
    std::vector<std::string> words{command, photo, "--after", "a.png", "-q", "--force", "-o", output};
    if (command == "paint") words.insert(words.end(), {"--steps", "1", "--brushwork=no"});
    words.insert(words.end(), more.begin(), more.end());
    told(words);
    return folder / output;
  };
  for (const char* command : {"paint", "grade"}) {
    EXPECT_EQ(readPicture(written(command, "photo.png", "o.png", {"--depth", "16"})).depth, Depth::sixteen);
    EXPECT_EQ(readPicture(written(command, "deep.png", "o.png", {"--depth", "8"})).depth, Depth::eight);
    EXPECT_EQ(readPicture(written(command, "photo.png", "o.tif", {"--depth", "float"})).depth,
              Depth::floating);
    const auto low = std::filesystem::file_size(written(command, "photo.png", "o.jpg", {"--quality", "20"}));
    const auto usual = std::filesystem::file_size(written(command, "photo.png", "o.jpg", {}));
    EXPECT_LT(low, usual);
    EXPECT_LT(std::filesystem::file_size(written(command, "photo.png", "o.webp", {"--quality", "20"})),
              std::filesystem::file_size(written(command, "photo.png", "o.webp", {"--quality", "90"})));
    expectError({command, "photo.png", "--after", "a.png", "-o", "x.jpg", "--depth", "16"}, 2,
                ".jpg files hold 8 bits");
    expectError({command, "photo.png", "--after", "a.png", "-o", "x.png", "--depth", "12"}, 2,
                "depth is auto, 8, 16 or float");
  }
  // It stands in the recipe.
  written("paint", "photo.png", "p.webp", {"--quality", "20"});
  told({"redo", "p.recipe.toml", "-q", "-o", "again.webp"});
  EXPECT_EQ(contentOf(folder / "again.webp"), contentOf(folder / "p.webp"));
}

// --- Counterparts.

TEST_F(CommandWords, GradeKnowsBothSidesOfAMask) {
  Image half(60, 44, 1);
  for (int y = 0; y < 44; ++y)
    for (int x = 30; x < 60; ++x) half.at(x, y, 0) = 1;
  writePicture(folder / "half.png", half, Depth::eight);
  told({"grade", "photo.png", "--after", "a.png", "--outside", "half.png", "-q", "-o", "g.png"});
  const Image photo = readPicture(folder / "photo.png").image;
  const Image out = readPicture(folder / "g.png").image;
  EXPECT_NE(out.at(5, 20, 0), photo.at(5, 20, 0));
  EXPECT_EQ(out.at(55, 20, 0), photo.at(55, 20, 0));
  expectError({"grade", "photo.png", "--after", "a.png", "--outside", "half.png", "--inside", "half.png",
               "-o", "x.png"},
              2, "two sides of one mask");
}

TEST_F(CommandWords, ALookMakesAFilmAGrading) {
  makeClip(2);
  told({"grade", "photo.png", "--after", "a.png", "--save-look", "dusk.look.toml", "-q"});
  told({"film", "clip.mkv", "--look", "dusk.look.toml", "-q", "-o", "one.mkv"});
  told({"film", "clip.mkv", "--grade", "--look", "dusk.look.toml", "-q", "-o", "two.mkv"});
  EXPECT_EQ(contentOf(folder / "one.mkv"), contentOf(folder / "two.mkv"));
}

TEST_F(CommandWords, MasksAreTriedAndLooksAreQuiet) {
  const std::string mask = told({"mask", "photo.png", "--all", "-o", "m.png", "--dry-run"});
  EXPECT_EQ(mask, "would write m.png for photo.png: 60x44, 100.0 % of the picture counts\n");
  EXPECT_FALSE(std::filesystem::exists(folder / "m.png"));
  told({"grade", "photo.png", "--after", "a.png", "--save-look", "dusk.look.toml", "-q"});
  EXPECT_EQ(told({"look", "dusk.look.toml", "-q", "-o", "x.cube"}), "");
  EXPECT_TRUE(std::filesystem::exists(folder / "x.cube"));
}

}  // namespace
}  // namespace jugendstil
