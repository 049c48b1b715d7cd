// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/error.h"
#include "cli/compare_clips.h"
#include "cli/compare_pictures.h"
#include "cli/pipes.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

po::options_description viewOptions() {
  auto options = optionGroup("How pictures are shown");
  options.add_options()(
      "files", textsValue("A B..."),
      "the pictures or clips to compare (the plain words); - for a picture from standard input")(
      "output,o", textValue("OUT"),
      "the view to write: a picture; .html for a page with a divider to drag; .webm, .mp4 or .gif for a "
      "divider that slides; - for standard output; without it only numbers are printed")(
      "view", textValue("beside|sheet|split|slide|difference|crops|page"),
      "how they are laid out: beside each other at full size, reduced on a sheet, ... (as the name of -o "
      "says, "
      "else beside)")("at", textValue("0..100"), "where a split lies, in per cent from the left (50)")(
      "level", "the split lies level, the first picture above it")(
      "soft", textValue("PX"), "one goes over into the other so softly (0)")(
      "crop", textsValue("X,Y,W,H"),
      "a place of the first picture to magnify; may be given again (three places with much drawing)")(
      "times", textValue("N"), "how much crops are magnified (3)")("gain", textValue("X"),
                                                                   "how much a difference is brightened (4)");
  addFormatOption(options, "png|jpg|tif|webp|exr|html|webm|mp4|gif");
  return options;
}

po::options_description measureOptions() {
  auto options = optionGroup("What is measured");
  options.add_options()("numbers", "how near each picture is to the photo and to the references")(
      "photo", textValue("PHOTO"), "the photo whose drawing is compared (the first picture)")(
      "after,a", referencesValue(), "a reference whose style and colours are compared; may be given again")(
      "steadiness", "how steady clips are against their source")("source", textValue("CLIP"),
                                                                 "the clip that they were made from")(
      "chart", textValue("FILE.png"), "draw the steadiness frame by frame")("network", textValue("FILE.onnx"),
                                                                            "another feature network (ONNX)");
  return options;
}

PictureComparison pictureComparison(const po::variables_map& given, const std::vector<std::string>& files,
                                    const RunOptions& run, Pipes& pipes) {
  PictureComparison asked;
  for (const std::string& file : files) asked.pictures.push_back(pipes.input(file));
  if (files.size() < 2) throw UsageError("compare needs two pictures or more: jugendstil compare A B -o OUT");
  const std::string view = textOf(given, "view", "page");
  asked.output = pipes.output(textOf(given, "output"), given, "",
                              view == "page" && given.count("view") != 0 ? ".html" : ".png");
  if (!asked.output.empty())
    asked.output = outputFor(asked.output.string(), view == "page"    ? "comparison.html"
                                                    : view == "slide" ? "comparison.webm"
                                                                      : "comparison.png");
  asked.view =
      given.count("view") != 0 ? comparisonViewOf(textOf(given, "view")) : comparisonViewFor(asked.output);
  asked.divider = {numberOf(given, "at", 50, 100) / 100, numberOf(given, "soft", 0, 10000),
                   given.count("level") != 0};
  for (const std::string& text : listOf(given, "crop")) asked.crops.push_back(parseBox("--crop", text));
  if (given.count("crop") != 0 && given.count("view") == 0 && asked.view == ComparisonView::beside)
    asked.view = ComparisonView::crops;
  if (given.count("times") != 0) asked.times = wholeSetting("--times", textOf(given, "times"), 1, 32);
  asked.gain = numberOf(given, "gain", 4, 1000);
  asked.photo = textOf(given, "photo");
  for (const std::string& word : listOf(given, "after")) asked.references.push_back(parseReference(word));
  asked.numbers = asked.output.empty() || given.count("numbers") != 0 || !asked.photo.empty() ||
                  !asked.references.empty();
  asked.network = given.count("network") != 0 ? fs::path(textOf(given, "network")) : shippedNetwork();
  static_cast<RunOptions&>(asked) = run;
  asked.toPipe = pipes.hasOutput();
  asked.makesFolder = given.count("output") != 0 && meansFolder(textOf(given, "output"));
  return asked;
}

}  // namespace

CommandHelp compareHelp() {
  return {
      "usage: jugendstil compare A B [C...] [-o OUT] [options]\n\n"
      "Lays pictures side by side or over each other, and measures them; or measures how steady clips "
      "are.\n\n"
      "  jugendstil compare palm_house.jpg palm_evening.png -o palm.html\n"
      "  jugendstil compare draft_20.png draft_80.png --crop 400,300,160,120 -o crops.png\n"
      "  jugendstil compare draft_20.png draft_80.png --photo palm_house.jpg --after evening.jpg\n"
      "  jugendstil compare --steadiness draft.mp4 final.mp4 --source pond.mp4 --chart steady.png\n",
      {viewOptions(), measureOptions(), reportOptions()}};
}

int compareCommand(const Words& words) {
  const CommandHelp help = compareHelp();
  po::positional_options_description positions;
  positions.add("files", -1);
  const auto given = parseWords(words, help.options(), positions, "compare");
  if (sayHelpIfAsked(given, help)) return 0;
  const std::vector<std::string> files = listOf(given, "files");
  const RunOptions run = runOptionsOf(given);
  if (given.count("steadiness") == 0) {
    for (const char* ofClips : {"source", "chart"}) {
      if (given.count(ofClips) != 0)
        throw UsageError(fmt::format("--{} belongs to --steadiness; add that, or leave it out", ofClips));
    }
    Pipes pipes;
    const PictureComparison asked = pictureComparison(given, files, run, pipes);
    return pipes.run([&] {
      comparePictures(asked);
      return 0;
    });
  }
  if (files.empty()) throw UsageError("compare needs the clips to measure: --steadiness A B");
  if (given.count("source") == 0)
    throw UsageError("compare needs the clip they were made from: add --source CLIP");
  compareClips(files, {run, textOf(given, "source"), textOf(given, "chart")});
  return 0;
}

}  // namespace jugendstil::cli
