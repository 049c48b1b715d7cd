// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/error.h"
#include "base/file_name.h"
#include "base/number.h"
#include "cli/options.h"
#include "cli/pipes.h"
#include "cli/say.h"
#include "image/faces.h"
#include "image/mask.h"
#include "image/picture_file.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

po::options_description sourceOptions() {
  auto options = optionGroup("What counts (of several, where any of them does)");
  options.add_options()("tones", textsValue("FROM..TO"),
                        "tones, from 0 (black) to 100 (white): 0..30 are the shadows")(
      "soft", textValue("0..100"), "how softly the tones end (5)")(
      "colour", textsValue("#RRGGBB[@REACH]"),
      "a colour and what is near it, in light and shade: @3 hardly differs, @20 is far (8)")(
      "box", textsValue("X,Y,W,H"), "the thing inside a box of the photo's pixels; its outline is found")(
      "drawing", textsValue("FILE.svg"),
      "strokes and fills of an SVG drawing, as wide and as opaque as they are drawn")(
      "faces", "faces that look at the camera, a little larger than they are, with soft edges")(
      "alpha", "the photo's own transparency")("all", "everything");
  return options;
}

po::options_description changeOptions() {
  auto options = optionGroup("What becomes of it, in this order");
  options.add_options()("with", textsValue("MASK"), "add another mask (a grey picture or SVG)")(
      "without", textsValue("MASK"), "take another mask away")(
      "within", textsValue("MASK"), "keep only what lies in another mask")("invert", "the other way round")(
      "grow", textValue("PX"), "larger all round")("shrink", textValue("PX"), "smaller all round")(
      "feather", textValue("PX"), "soften the edge over so many pixels each way");
  return options;
}

po::options_description fileOptions() {
  auto options = optionGroup("Files");
  options.add_options()("photo", textValue("PHOTO"),
                        "the photo the mask is for (the first plain word); - for standard input")(
      "output,o", textValue("OUT"), "the mask to write, white where it counts; - for standard output")(
      "check", textValue("FILE.png"), "also a picture of the mask over the photo, to check it by")(
      "force,f", "replace files that exist")("quiet,q", "only the result or the error")(
      "dry-run", "say what would be written, and write nothing");
  addFormatOption(options, "png|jpg|tif|webp|exr");
  addHelpOptions(options);
  return options;
}

Image tonesFrom(const Image& photo, const std::string& text, double soft) {
  const auto ends = numbersIn(text, "..");
  if (ends.size() != 2 || ends[0] < 0 || ends[1] > 100 || ends[0] >= ends[1])
    throw UsageError(
        fmt::format("--tones is like 0..30, two numbers from 0 to 100 that rise, not \"{}\"", text));
  return maskOfTones(photo, ends[0], ends[1], soft);
}

Image colourFrom(const Image& photo, const std::string& text) {
  const auto at = text.find('@');
  const auto colour = colourOfHex(text.substr(0, at));
  const auto reach = at == std::string::npos ? std::vector<double>{8} : numbersIn(text.substr(at + 1), ",");
  if (!colour || reach.size() != 1 || !(reach[0] > 0) || reach[0] > 100) {
    throw UsageError(fmt::format(
        "--colour is like #c04a2e, #c42 or #c04a2e@20, with a reach above 0 and up to 100, not \"{}\"",
        text));
  }
  return maskOfColour(photo, *colour, reach[0]);
}

Image facesFrom(const Image& photo) {
  const std::vector<Face> faces = facesIn(photo);
  if (faces.empty())
    throw Error("no face was found; those that look aside or are small can be named by --box or --drawing");
  return maskOfFaces(photo, faces);
}

Image made(const po::variables_map& given, const Image& photo) {
  Image mask;
  const auto add = [&](const Image& more) { mask = mask.empty() ? more : eitherOf(mask, more); };
  const double soft = numberOf(given, "soft", 5, 100);
  for (const std::string& text : listOf(given, "tones")) add(tonesFrom(photo, text, soft));
  for (const std::string& text : listOf(given, "colour")) add(colourFrom(photo, text));
  for (const std::string& text : listOf(given, "box")) add(maskInBox(photo, parseBox("--box", text)));
  for (const std::string& file : listOf(given, "drawing")) {
    if (extensionOf(file) != ".svg")
      throw UsageError(
          fmt::format("--drawing takes an SVG file, not {}; a picture goes behind --with", file));
    add(readMask(file, photo.width, photo.height));
  }
  if (given.count("faces") != 0) add(facesFrom(photo));
  if (given.count("alpha") != 0) add(maskOfAlpha(photo));
  if (given.count("all") != 0) add(Image(photo.width, photo.height, 1, 1.0F));
  return mask;
}

Image otherMask(const std::string& file, const Image& photo) {
  return resizedMask(readMaskFor(file, photo.width, photo.height), photo.width, photo.height);
}

Image changed(const po::variables_map& given, Image mask, const Image& photo) {
  for (const std::string& file : listOf(given, "with")) {
    const Image other = otherMask(file, photo);
    mask = mask.empty() ? other : eitherOf(mask, other);
  }
  if (mask.empty()) {
    throw UsageError(
        "mask needs to know what counts: --tones, --colour, --box, --drawing, --faces, --alpha, --all, or "
        "--with "
        "another "
        "mask");
  }
  for (const std::string& file : listOf(given, "without")) mask = withoutOf(mask, otherMask(file, photo));
  for (const std::string& file : listOf(given, "within")) mask = bothOf(mask, otherMask(file, photo));
  if (given.count("invert") != 0) mask = inverted(std::move(mask));
  const auto pixels = [&](const char* name) { return rounded(numberOf(given, name, 0, 2000)); };
  if (pixels("grow") > 0) mask = grown(mask, pixels("grow"));
  if (pixels("shrink") > 0) mask = grown(mask, -pixels("shrink"));
  return feathered(mask, numberOf(given, "feather", 0, 2000));
}

}  // namespace

namespace {

struct MaskFiles {
  fs::path photo;
  fs::path output;
  std::string shown;  // what the output is called
  fs::path check;
  bool makesFolder = false;
};

int makeMask(const po::variables_map& given, const MaskFiles& files) {
  const Image photo = readPicture(files.photo).image;
  const Image mask = changed(given, made(given, photo), photo);
  const double part = coverage(mask);
  if (given.count("dry-run") != 0) {
    say(stdout, "would write {} for {}: {}x{}, {:.1f} % of the picture counts\n", files.shown,
        files.photo.filename().string(), mask.width, mask.height, 100 * part);
    if (!files.check.empty()) say(stdout, "would write {}\n", files.check.string());
    return 0;
  }
  if (files.makesFolder) makeFolderFor(files.output);
  writePicture(files.output, mask, Depth::eight);
  if (!files.check.empty()) writePicture(files.check, maskOver(photo, mask), Depth::eight);
  if (part <= 0 && given.count("quiet") == 0) say(stderr, "note: the mask is black all over\n");
  if (part >= 1 && given.count("quiet") == 0) say(stderr, "note: the mask is white all over\n");
  say(stdout, "{}: {}x{}, {:.1f} % of the picture counts\n", files.shown, mask.width, mask.height,
      100 * part);
  return 0;
}

}  // namespace

CommandHelp maskHelp() {
  return {
      "usage: jugendstil mask PHOTO --box X,Y,W,H -o OUT.png [options]\n\n"
      "Makes a mask for a photo: white where something counts, black where it does not.\n\n"
      "  jugendstil mask bench.jpg --box 420,310,360,400 --feather 3 -o can.png --check can_check.png\n"
      "  jugendstil mask friends.jpg --faces -o faces.png --check faces_check.png\n"
      "  jugendstil mask gate.jpg --drawing sky.svg --tones 70..100 --without trees.png -o sky.png\n",
      {sourceOptions(), changeOptions(), fileOptions()}};
}

int maskCommand(const Words& words) {
  const CommandHelp help = maskHelp();
  po::positional_options_description positions;
  positions.add("photo", 1);
  const auto given = parseWords(words, help.options(), positions, "mask");
  if (sayHelpIfAsked(given, help)) return 0;
  if (given.count("photo") == 0)
    throw UsageError("mask needs the photo it is for: jugendstil mask PHOTO ... -o OUT");
  if (given.count("output") == 0) throw UsageError("mask needs a place for the result: add -o OUT.png");
  Pipes pipes;
  MaskFiles files;
  files.photo = pipes.input(textOf(given, "photo"));
  const std::string output = pipes.output(textOf(given, "output"), given, ".png", ".png");
  files.makesFolder = meansFolder(output);
  files.output = outputFor(output, files.photo.stem().string() + "-mask.png");
  files.shown = pipes.hasOutput() ? "standard output" : files.output.string();
  files.check = textOf(given, "check");
  return pipes.run([&] {
    for (const fs::path& path : {files.output, files.check}) {
      if (path.empty()) continue;
      requireWritableName(path);
      requireFree(path, given.count("force") != 0);
      requirePlace(path, files.makesFolder);
    }
    return makeMask(given, files);
  });
}

}  // namespace jugendstil::cli
