// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"
#include "cli/options.h"
#include "cli/pipes.h"
#include "cli/say.h"
#include "grade/look_file.h"
#include "grade/lut_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

po::options_description lookOptions() {
  auto options = optionGroup("Options");
  options.add_options()(
      "look", textValue("LOOK"),
      "a look: .look.toml, or .cube, .clf, Hald .png to import (the first plain word); - for standard "
      "input")("in-words", "say what it does, as a photographer would")(
      "set", textsValue("NAME=VALUE"),
      "change a number, like tone.exposure=0.3 or colour.lights=0.01,0.03; may be given again")(
      "towards", textValue("LOOK"), "mix with another look")("by", textValue("SHARE"),
                                                             "how far towards it: 0.4 or 40% (0.5)")(
      "output,o", textsValue("OUT"),
      "write it: .toml, or .cube, .clf, .png (Hald) for other programs; may be given again; - for standard "
      "output")("size", textValue("33|65"), "points a side of an exported table (33)")(
      "force,f", "replace files that exist")("quiet,q", "only what is asked for, not where it went");
  addFormatOption(options, "toml|cube|clf|png");
  addHelpOptions(options);
  return options;
}

void applySets(Look& look, const Texts& sets) {
  for (const std::string& word : sets) {
    const auto equals = word.find('=');
    if (equals == std::string::npos)
      throw UsageError(fmt::format("--set is NAME=VALUE, like tone.exposure=0.3, not \"{}\"", word));
    setLookNumber(look, word.substr(0, equals), word.substr(equals + 1));
  }
}

void show(const Look& look) {
  say(stdout, "{}\n", look.name.empty() ? "a look without a name" : look.name);
  say(stdout, "  exposure   {:+.2f} EV\n  black      {:.3f}\n  white      {:.3f}\n  curve      ",
      look.exposure, look.black, look.white);
  for (const auto& [x, y] : look.curve) say(stdout, "{:.2f}>{:.2f} ", x, y);
  say(stdout, "\n  saturation {:.3f}\n", look.saturation);
  constexpr const char* kNames[] = {"shadows", "midtones", "lights"};
  for (std::size_t r = 0; r < kToneRanges; ++r)
    say(stdout, "  {:<10} {:+.4f}, {:+.4f}\n", kNames[r], look.cast[r][0], look.cast[r][1]);
  say(stdout, "  detail     fine {:.3f}, medium {:.3f}, broad {:.3f}\n", look.detail[0], look.detail[1],
      look.detail[2]);
  if (look.residual.size > 0) say(stdout, "  residual   a table of {0}x{0}x{0}\n", look.residual.size);
}

void sayInWords(const Look& look) {
  for (const std::string& remark : lookInWords(look)) say(stdout, "{}\n", remark);
}

void write(const Look& look, const fs::path& path, int size, bool quiet) {
  if (extensionOf(path) == ".toml") {
    writeFileAtomically(path, lookText(look));
    if (quiet) return;
    say(stdout, "{}: the look; apply it with: jugendstil grade PHOTO --look {} -o OUT\n", path.string(),
        path.string());
    return;
  }
  writeLut(path, look, size);
  if (quiet) return;
  say(stdout, "{}: the look's colour map for sRGB pictures{}\n", path.string(),
      look.changesDetail() ? "; its local contrast is no map of colour and stays behind" : "");
}

// Throws UsageError for outputs that cannot be told apart or made.
void requireOutputs(Texts& outputs, const fs::path& file, bool force) {
  for (std::string& output : outputs) {
    output = outputFor(output, file.stem().stem().string() + ".look.toml").string();
    if (extensionOf(output) != ".toml" && !isLutName(output)) {
      throw UsageError(
          fmt::format("cannot tell the format of {}: end its name in .toml, .cube, .clf or .png", output));
    }
    requireFree(output, force);
  }
}

int runLook(const po::variables_map& given, const fs::path& file, Texts outputs, int size, bool toPipe) {
  const Texts words = outputs;
  requireOutputs(outputs, file, given.count("force") != 0);
  Look look = readLook(file);
  if (given.count("towards") != 0) {
    look =
        mixedLook(look, readLook(textOf(given, "towards")), shareSetting("--by", textOf(given, "by", "0.5")));
  }
  applySets(look, listOf(given, "set"));
  if (given.count("in-words") != 0) {
    sayInWords(look);
  } else if (outputs.empty()) {
    show(look);
    sayInWords(look);
  }
  for (const std::string& word : words) {
    if (meansFolder(word)) makeFolderFor(fs::path(word) / "look");
  }
  for (const std::string& output : outputs) write(look, output, size, toPipe || given.count("quiet") != 0);
  return 0;
}

}  // namespace

CommandHelp lookHelp() {
  return {
      "usage: jugendstil look LOOK [options]\n\n"
      "Shows, edits, mixes, imports and exports looks; grade --save-look makes them.\n\n"
      "  jugendstil look dusk.look.toml --in-words\n"
      "  jugendstil look dusk.look.toml --towards rain.look.toml --by 0.4 --set "
      "colour.saturation=0.9 -o mix.look.toml -o mix.cube\n",
      {lookOptions()}};
}

int lookCommand(const Words& words) {
  const CommandHelp help = lookHelp();
  po::positional_options_description positions;
  positions.add("look", 1);
  const auto given = parseWords(words, help.options(), positions, "look");
  if (sayHelpIfAsked(given, help)) return 0;
  if (given.count("look") == 0) throw UsageError("look needs a look: jugendstil look FILE.look.toml");
  if (given.count("by") != 0 && given.count("towards") == 0)
    throw UsageError("--by says how far --towards LOOK goes; add it");
  const std::string size = textOf(given, "size", "33");
  if (size != "33" && size != "65") throw UsageError(fmt::format("--size is 33 or 65, not \"{}\"", size));
  Pipes pipes;
  const fs::path file = pipes.input(textOf(given, "look"));
  Texts outputs = listOf(given, "output");
  for (std::string& output : outputs) output = pipes.output(output, given, file, ".toml");
  return pipes.run(
      [&] { return runLook(given, file, std::move(outputs), size == "65" ? 65 : 33, pipes.hasOutput()); });
}

}  // namespace jugendstil::cli
