// SPDX-License-Identifier: Apache-2.0
#include "targets.h"

#include <stdexcept>
#include <string>

#include "amplify/recipe.h"
#include "base/base64.h"
#include "base/error.h"
#include "base/file.h"
#include "base/state_file.h"
#include "base/utf8.h"
#include "base/words.h"
#include "cli/calibration.h"
#include "cli/options.h"
#include "cli/recipe_options.h"
#include "clip/moment.h"
#include "dive/keys.h"
#include "dive/recipe.h"
#include "film/film_recipe.h"
#include "film/journal.h"
#include "film/selection.h"
#include "grade/look_file.h"
#include "grade/lut_file.h"
#include "grade/recipe.h"
#include "history/history.h"
#include "image/layered_reader.h"
#include "image/mask.h"
#include "image/metadata_blocks.h"
#include "image/picture_file.h"
#include "image/segments.h"
#include "learn/quick_painter.h"
#include "learn/recipe.h"
#include "network/chain_file.h"
#include "network/onnx_file.h"
#include "paint/recipe.h"
#include "recipe/recipe_file.h"
#include "recipe/user_defaults.h"
#include "weave/recipe.h"

namespace fuzz {
namespace {

namespace fs = std::filesystem;
using namespace jugendstil;

fs::path written(const fs::path& folder, const char* name, std::string_view bytes) {
  const fs::path file = folder / name;
  File(file, File::Mode::replace).write(bytes);
  return file;
}

// What is read and written again is read as the same.
template <typename Parse, typename Text>
void thereAndBack(std::string_view bytes, const fs::path& folder, const Parse& parse, const Text& text) {
  const auto first = parse(bytes, folder / "recipe.toml");
  const std::string once = text(first, folder);
  const std::string twice = text(parse(once, folder / "recipe.toml"), folder);
  if (once != twice) throw std::logic_error("read again it is another");
}

void readRecipe(std::string_view bytes, const fs::path& folder) {
  const std::string command = recipeCommand(bytes, folder / "recipe.toml");
  if (command == "paint") thereAndBack(bytes, folder, parsePaintRecipe, paintRecipeText);
  if (command == "grade") thereAndBack(bytes, folder, parseGradeRecipe, gradeRecipeText);
  if (command == "film") thereAndBack(bytes, folder, parseFilmRecipe, filmRecipeText);
  if (command == "weave") thereAndBack(bytes, folder, parseWeaveRecipe, weaveRecipeText);
  if (command == "amplify") thereAndBack(bytes, folder, parseAmplifyRecipe, amplifyRecipeText);
  if (command == "dive") thereAndBack(bytes, folder, parseDiveRecipe, diveRecipeText);
  if (command == "learn") thereAndBack(bytes, folder, parseLearnRecipe, learnRecipeText);
}

void readLookText(std::string_view bytes, const fs::path& folder) {
  thereAndBack(bytes, folder, parseLook, [](const Look& look, const fs::path&) { return lookText(look); });
}

void readDefaults(std::string_view bytes, const fs::path& folder) {
  for (const std::string& command : recipeCommands()) {
    PaintSettings settings;
    readUserDefaults(
        bytes, folder / "defaults.toml", command, paintSettingTable(),
        [&](const std::string& name, const std::string& value) { setPaintSetting(settings, name, value); });
  }
}

// All that words on a command line are taken for.
void readWords(std::string_view bytes, const fs::path&) {
  const std::string text(bytes);
  const auto tried = [](const auto& read) {
    try {
      read();
    } catch (const Error&) {
    }
  };
  tried([&] { momentOf("from", text); });
  tried([&] { risingFrames("keys", {text, text}, 25); });
  tried([&] {
    for (const Key<std::string>& key : keysIn("zoom", text)) frameAt(key.at, 25);
  });
  tried([&] { cli::parseReference(text); });
  tried([&] { cli::parsePart(text); });
  tried([&] { cli::parseHold(text); });
  tried([&] { cli::parseBox("box", text); });
  tried([&] { cli::colourOfHex(text); });
  tried([&] { cli::numbersIn(text, ","); });
  tried([&] { cli::numbersIn(text, ".."); });
  onOneLine(text);
  utf8Of(text);
  placeToldIn(text);
  if (bytesOfBase64(base64Of(bytes)) != bytes) throw std::logic_error("base64 there and back is another");
  tried([&] { bytesOfBase64(text); });
  for (const SettingInfo& info : paintSettingTable()) {
    PaintSettings settings;
    tried([&] { setPaintSetting(settings, info.name, text); });
  }
  // The first two lines as a selection of frames.
  const std::vector<std::string> lines = splitAt(text, '\n');
  FilmSettings film;
  tried([&] {
    setFilmSetting(film, "from", lines.at(0));
    if (lines.size() > 1) setFilmSetting(film, "to", lines[1]);
    ClipInfo clip;
    for (int i = 0; i < 50; ++i) clip.times.push_back(i);
    for (const std::int64_t frame : chosenFrames(clip, film)) {
      if (frame < 0 || frame >= 50) throw std::logic_error("a frame that the clip does not have");
    }
  });
}

void readJournal(std::string_view bytes, const fs::path& folder) {
  const fs::path work = folder / "out.mkv.work";
  fs::create_directories(work);
  written(work, "journal.jsonl", bytes);
  Journal journal(work, "a making", false, Depth::eight);
  journal.forgetDamaged([](std::int64_t, std::int64_t) {});
}

// JSON that the program keeps for itself, and the state of a painting.
void readState(std::string_view bytes, const fs::path& folder) {
  const fs::path file = written(folder, "state", bytes);
  cli::knownRate(file, "key");
  if (const auto making = makingOfState(file)) {
    StateReader state(file, *making);
    std::vector<float> values;
    state.values(values);
  }
}

void readHistory(std::string_view bytes, const fs::path& folder) {
  written(folder, "one.recipe.toml", bytes);
  historyOf(folder);
}

void readNetwork(std::string_view bytes, const fs::path& folder) {
  const fs::path file = written(folder, "network.onnx", bytes);
  const OnnxGraph graph = readOnnxGraph(file);
  const auto tried = [](const auto& read) {
    try {
      read();
    } catch (const Error&) {
    }
  };
  tried([&] { readAnyOnnx(file); });
  tried([&] { readQuickPainter(file); });
}

void readCube(std::string_view bytes, const fs::path& folder) {
  readLut(written(folder, "table.cube", bytes));
}
void readClf(std::string_view bytes, const fs::path& folder) { readLut(written(folder, "table.clf", bytes)); }
void readLayered(std::string_view bytes, const fs::path& folder) {
  readOpenRaster(written(folder, "layers.ora", bytes));
}
void readDrawing(std::string_view bytes, const fs::path&) { maskOfDrawing(bytes, 96, 64); }

// What is taken out of any file comes out of a sound one into which it is put.
void readBlocks(std::string_view bytes, const fs::path& folder) {
  using namespace std::string_literals;
  const MetadataBlocks blocks = metadataBlocksOf(bytes);
  damageOf(bytes);
  const std::string png = "\x89PNG\r\n\x1a\n"s + pngChunk("IHDR", "\0\0\0\1\0\0\0\1\x08\2\0\0\0"s) +
                          pngChunk("IDAT", "x"s) + pngChunk("IEND", ""s);
  const fs::path file = written(folder, "photo", isJpeg(bytes) ? "\xFF\xD8\xFF\xDA\0\2\xFF\xD9"s : png);
  putMetadataBlocks(file, blocks);
  const MetadataBlocks again = metadataBlocksOf(readFile(file, std::size_t{1} << 30));
  if (again.exif != blocks.exif || again.xmp != blocks.xmp || again.icc != blocks.icc)
    throw std::logic_error("metadata that is put in does not come out");
}

}  // namespace

const std::vector<Target>& targets() {
  static const std::vector<Target> all{
      {"recipe", "text", false, readRecipe},     {"look", "text", false, readLookText},
      {"defaults", "text", false, readDefaults}, {"words", "text", false, readWords},
      {"journal", "text", false, readJournal},   {"history", "text", false, readHistory},
      {"cube", "text", true, readCube},          {"clf", "text", true, readClf},
      {"drawing", "text", true, readDrawing},    {"state", "binary", false, readState},
      {"network", "binary", false, readNetwork}, {"blocks", "binary", false, readBlocks},
      {"layers", "binary", true, readLayered},
  };
  return all;
}

void readOnce(const Target& target, std::string_view bytes, const fs::path& folder) {
  try {
    target.read(bytes, folder);
  } catch (const Error&) {  // says what is wrong, which is what readers are for
  }
}

}  // namespace fuzz
