// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "cli/grade_job.h"
#include "cli/options.h"
#include "grade/look_file.h"
#include "grade/lut_file.h"
#include "image/mask.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {

namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMaxLook = std::size_t{64} << 20;

bool isColour(const std::string& word) { return word == "colour" || word == "color"; }

std::vector<std::string> parts(const std::string& text) {
  std::vector<std::string> out;
  std::size_t begin = 0;
  for (;;) {
    const auto comma = text.find(',', begin);
    out.push_back(text.substr(begin, comma - begin));
    if (comma == std::string::npos) return out;
    begin = comma + 1;
  }
}

po::options_description fileOptions() {
  auto options = optionGroup("Files");
  options.add_options()("photo", po::value<std::vector<std::string>>()->value_name("PHOTO..."),
                        "the photos to grade (the plain words)")(
      "after,a", referencesValue(),
      "references, all words up to the next option; each may have a share (@3)")(
      "look", po::value<std::string>()->value_name("FILE"),
      "apply a saved look instead: .look.toml, .cube, .clf or a Hald .png")(
      "output,o", po::value<std::string>()->value_name("OUT|DIR/"),
      "the picture to write, or the folder for several")(
      "save-look", po::value<std::string>()->value_name("FILE.look.toml"), "keep the look that was found")(
      "chart", po::value<std::string>()->value_name("FILE.png"),
      "draw photo, reference and result with histograms, curve and colours");
  return options;
}

po::options_description settingOptions() {
  auto options = optionGroup("Settings");
  options.add_options()("match", po::value<std::string>()->value_name("tone,colour,detail"),
                        "what is matched (all three)")(
      "method", po::value<std::string>()->value_name("mean-std|covariance|distribution"),
      "how colour is matched: gently, well (the default), or to the last cast")(
      "amount", po::value<std::string>()->value_name("N | tone=N,colour=N,detail=N"),
      "how much of it, 0 to 100, up to 200 for more than the reference (100)")(
      "together", "one look for all photos, so that a series stays even")(
      "each", "a look for each photo (the default)")("inside", po::value<std::string>()->value_name("MASK"),
                                                     "grade only where this picture is white")(
      "outside", po::value<std::string>()->value_name("MASK"), "grade only where it is black")(
      "opacity", po::value<std::string>()->value_name("SHARE"),
      "how much of the result lies over the photo: 0.7 or 70% (1)")(
      "blend", po::value<std::string>()->value_name("MODE"),
      "how it lies over the photo: normal, multiply, screen, overlay, soft-light, luminosity, color ...")(
      "profile", po::value<std::string>()->value_name("keep|srgb"),
      "the colour profile of the result: the photo's own (keep), or sRGB")(
      "depth", po::value<std::string>()->value_name("auto|8|16|float"),
      "bits of the result; float for .tif and .exr (auto: the photo's own, as far as the format goes)")(
      "quality", po::value<std::string>()->value_name("0..100"), "of a JPEG (auto: 95) or WebP (auto: 92)")(
      "threads", po::value<std::string>()->value_name("N|auto"), "processor threads (auto)");
  return options;
}

std::string choiceOf(const po::variables_map& given, const char* name,
                     const std::vector<std::string>& words) {
  if (given.count(name) == 0) return words.front();
  const auto text = given[name].as<std::string>();
  for (const std::string& w : words) {
    if (w == text) return w;
  }
  std::string all;
  for (const std::string& w : words) all += (all.empty() ? "" : " or ") + w;
  throw UsageError(fmt::format("--{} is {}, not \"{}\"", name, all, text));
}

MatchSettings matchOf(const po::variables_map& given) {
  MatchSettings match;
  if (given.count("match") != 0) {
    match.tone = match.colour = match.detail = false;
    for (const std::string& part : parts(textOf(given, "match"))) {
      if (part == "tone") {
        match.tone = true;
      } else if (isColour(part)) {
        match.colour = true;
      } else if (part == "detail") {
        match.detail = true;
      } else {
        throw UsageError(
            fmt::format("--match is tone, colour, detail or several with commas, not \"{}\"", part));
      }
    }
  }
  const std::string method = choiceOf(given, "method", {"covariance", "mean-std", "distribution"});
  match.method = method == "mean-std"       ? GradeMethod::meanStd
                 : method == "distribution" ? GradeMethod::distribution
                                            : GradeMethod::covariance;
  return match;
}

LookAmounts amountsOf(const po::variables_map& given) {
  LookAmounts amounts;
  if (given.count("amount") == 0) return amounts;
  for (const std::string& part : parts(textOf(given, "amount"))) {
    const auto equals = part.find('=');
    if (equals == std::string::npos) {
      const double all = numberSetting("--amount", part, 0, 200) / 100;
      amounts = {all, all, all};
      continue;
    }
    const std::string stage = part.substr(0, equals);
    const double value = numberSetting("--amount of " + stage, part.substr(equals + 1), 0, 200) / 100;
    if (stage == "tone") {
      amounts.tone = value;
    } else if (isColour(stage)) {
      amounts.colour = value;
    } else if (stage == "detail") {
      amounts.detail = value;
    } else {
      throw UsageError(
          fmt::format("--amount is a number, or like tone=50,colour=100,detail=0, not \"{}\"", part));
    }
  }
  return amounts;
}

// Grey maps to RGB and camera formats cannot be written, so a photo keeps its extension only where it can.
fs::path nameInside(const fs::path& folder, const fs::path& photo) {
  fs::path name = photo.filename();
  try {
    requireWritableName(name);
  } catch (const UsageError&) {
    name.replace_extension(".tif");
  }
  return folder / name;
}

// Several photos mean a folder, but one that is called like a picture is likelier a slip.
void requireFolderName(const std::string& word, std::size_t photos) {
  if (!meansFolder(word) && fs::path(word).has_extension())
    throw UsageError(fmt::format("{} photos need a folder: -o {}/ (with the slash)", photos, word));
}

std::vector<fs::path> outputsFor(const std::vector<fs::path>& photos, const std::string& word) {
  if (photos.size() == 1 && !meansFolder(word)) return {word};
  requireFolderName(word, photos.size());
  std::vector<fs::path> out;
  for (const fs::path& photo : photos) {
    const fs::path path = nameInside(word, photo);
    if (std::find(out.begin(), out.end(), path) != out.end()) {
      throw UsageError(fmt::format("two photos are called {}; grade them into different folders",
                                   path.filename().string()));
    }
    out.push_back(path);
  }
  return out;
}

GradeInputs inputsOf(const po::variables_map& given) {
  GradeInputs inputs;
  inputs.match = matchOf(given);
  inputs.amounts = amountsOf(given);
  inputs.profile =
      choiceOf(given, "profile", {"keep", "srgb"}) == "keep" ? ProfileChoice::keep : ProfileChoice::srgb;
  inputs.encoding = {depthSetting("--depth", textOf(given, "depth", "auto")),
                     qualitySetting("--quality", textOf(given, "quality", "auto"))};
  if (given.count("opacity") != 0) inputs.layer.opacity = shareSetting("--opacity", textOf(given, "opacity"));
  if (given.count("blend") != 0) {
    try {
      inputs.layer.blend = blendModeOf(textOf(given, "blend"));
    } catch (const UsageError& e) {
      throw UsageError(fmt::format("--{}", e.what()));
    }
  }
  if (given.count("inside") != 0 && given.count("outside") != 0)
    throw UsageError("--inside and --outside are the two sides of one mask; give one of them");
  if (given.count("inside") != 0) inputs.layer.mask = readPicture(textOf(given, "inside")).image;
  if (given.count("outside") != 0) inputs.layer.mask = inverted(readPicture(textOf(given, "outside")).image);
  if (given.count("look") != 0) inputs.look = readLook(textOf(given, "look"));
  return inputs;
}

void requireSense(const GradeJob& job, const po::variables_map& given) {
  if (job.references.empty() && !job.inputs.look) {
    throw UsageError("grade needs a reference or a look: add --after REF, or --look FILE");
  }
  for (const char* option : {"after", "match", "method", "together", "each"}) {
    if (job.inputs.look && given.count(option) != 0) {
      throw UsageError(fmt::format("--look and --{} exclude each other: a look is already matched", option));
    }
  }
  if (given.count("together") != 0 && given.count("each") != 0) {
    throw UsageError("--together and --each exclude each other");
  }
  if (job.outputs.empty() && job.saveLook.empty()) {
    throw UsageError("grade needs a place for the result: add -o OUT.png, or -o DIR/ for several photos");
  }
  if (job.outputs.empty() && job.photos.size() > 1)
    throw UsageError("several photos need a folder: add -o DIR/");
  if (!job.saveLook.empty() && job.photos.size() > 1 && !job.together && !job.inputs.look) {
    throw UsageError("--save-look keeps one look: add --together, or grade one photo");
  }
  if (!job.chart.empty() && job.photos.size() > 1)
    throw UsageError("--chart draws one photo; grade that one by itself");
  const bool named = job.saveLook.empty() || extensionOf(job.saveLook) == ".toml";
  if (!named) {
    throw UsageError(fmt::format(
        "--save-look {}: looks are kept as .toml; \"jugendstil look\" exports .cube, .clf and .png",
        job.saveLook.string()));
  }
}

}  // namespace

Look readLook(const fs::path& path) {
  if (isLutName(path)) return readLut(path);
  return parseLook(readFile(path, kMaxLook), path);
}

int gradeCommand(const Words& words) {
  auto all = fileOptions();
  all.add(settingOptions()).add(reportOptions());
  po::positional_options_description positions;
  positions.add("photo", -1);
  const auto given = parseWords(words, all, positions, "grade");
  if (sayHelpIfAsked(
          given,
          "usage: jugendstil grade PHOTO... --after REF -o OUT|DIR/ [options]\n"
          "       jugendstil grade PHOTO... --look FILE -o OUT|DIR/ [options]\n\n"
          "Gives photos the tone, colour and local contrast of a reference photo. Depth, profile and "
          "metadata\n"
          "stay; the look can be kept, edited (jugendstil look) and carried to other programs.\n\n"
          "  jugendstil grade gate.tif --after rain.jpg --amount 80 --save-look rain.look.toml -o "
          "gate_rain.tif\n"
          "  jugendstil grade series/*.jpg --after dusk.jpg@2 --after noon.jpg --together -o graded/\n",
          all))
    return 0;
  requirePhoto(given, "grade needs a photo: jugendstil grade PHOTO --after REF -o OUT");
  GradeJob job;
  for (const std::string& word : listOf(given, "photo")) job.photos.emplace_back(word);
  for (const std::string& word : listOf(given, "after")) job.references.push_back(parseReference(word));
  if (given.count("output") != 0) job.outputs = outputsFor(job.photos, textOf(given, "output"));
  job.saveLook = textOf(given, "save-look");
  job.chart = textOf(given, "chart");
  job.inputs = inputsOf(given);
  job.together = given.count("together") != 0;
  const std::string threads = textOf(given, "threads", "auto");
  job.threads = threads == "auto" ? 0 : static_cast<int>(numberSetting("--threads", threads, 1, 1024));
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  requireSense(job, given);
  return runGradeJob(std::move(job));
}

}  // namespace jugendstil::cli
