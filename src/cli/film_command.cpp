#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <iostream>

#include "cli/film_job.h"
#include "film/clip_writer.h"
#include "image/atomic_file.h"
#include "image/error.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMaxRecipe = std::size_t{1} << 20;

po::options_description fileOptions() {
  po::options_description options("Files", 100, 60);
  options.add_options()("clip", po::value<std::string>()->value_name("CLIP"),
                        "the clip (the first plain word): a film file, frames like shot_%05d.png, or - for "
                        "YUV4MPEG2 from standard input")(
      "after,a", po::value<std::vector<std::string>>()->value_name("REF[@SHARE]"),
      "a reference, and its share where there are several; may be given again")(
      "output,o", po::value<std::string>()->value_name("OUT"),
      "what to write: .mkv (FFV1, lossless), .mp4 or .mov (H.264), .webm (VP9), shot_%05d.png (frames), .y4m "
      "or - "
      "(YUV4MPEG2)")("grade", "match colour, tone and local contrast of each shot instead of painting")(
      "look", po::value<std::string>()->value_name("FILE"), "with --grade: put a saved look on all shots")(
      "key", po::value<std::vector<std::string>>()->value_name("FRAME=PICTURE"),
      "a frame that you painted or approved: it stands as it is and leads the others; may be given again")(
      "inside", po::value<std::vector<std::string>>()->value_name("[FRAME=]MASK"),
      "paint only where the mask is white: a picture (followed from its frame, 0 if none is named), a clip "
      "of masks, "
      "or frames by pattern")("outside", po::value<std::vector<std::string>>()->value_name("[FRAME=]MASK"),
                              "the same where it is black")(
      "chart", po::value<std::string>()->value_name("FILE.png"), "draw the steadiness of every frame")(
      "proof", "a small, short film (8 frames, half size) named OUT.proof, and what the whole would take")(
      "recipe", po::value<std::string>()->value_name("FILE"),
      "take painting settings (and references) from a recipe; options given here win")(
      "network", po::value<std::string>()->value_name("FILE"), "another feature network (ONNX)");
  return options;
}

// Films have no snapshots, a size of their own, and proofs of their own.
bool ofFilms(const std::string& setting) {
  return setting != "snapshots" && setting != "finish" && setting != "proof";
}

// Of painting, all but what a film decides by itself.
po::options_description paintingOptions() {
  po::options_description options("Painting", 100, 60);
  for (const SettingInfo& info : paintSettingTable()) {
    if (!ofFilms(info.name)) continue;
    options.add_options()(info.name.c_str(), po::value<std::string>()->value_name(info.value),
                          info.help.c_str());
  }
  return options;
}

po::options_description filmOptions() {
  po::options_description options("Film", 100, 60);
  for (const SettingInfo& info : filmSettingTable())
    options.add_options()(info.name.c_str(), po::value<std::string>()->value_name(info.value),
                          info.help.c_str());
  return options;
}

void applyFilm(const po::variables_map& given, FilmSettings& settings) {
  for (const SettingInfo& info : filmSettingTable()) {
    if (given.count(info.name) == 0) continue;
    try {
      setFilmSetting(settings, info.name, given[info.name].as<std::string>());
    } catch (const UsageError& e) {
      throw UsageError(fmt::format("--{}", e.what()));
    }
  }
}

// "48=fixed.png"; without a number the whole word is the file. A file that is called like that wins.
FrameWord parseFrameWord(const char* option, const std::string& word, bool numberNeeded) {
  const auto equals = word.find('=');
  if (!numberNeeded && (equals == std::string::npos || fs::exists(word))) return {0, word};
  std::int64_t frame = -1;
  if (equals != std::string::npos && equals + 1 < word.size()) {
    const auto [end, error] = std::from_chars(word.data(), word.data() + equals, frame);
    if (error != std::errc() || end != word.data() + equals) frame = -1;
  }
  if (frame < 0)
    throw UsageError(fmt::format("--{} is written FRAME=PICTURE, like {}=48=frame_48.png, not \"{}\"", option,
                                 option, word));
  return {frame, word.substr(equals + 1)};
}

bool isClipName(const std::string& name) {
  if (isFramePattern(name)) return true;
  std::string extension = fs::path(name).extension().string();
  std::transform(extension.begin(), extension.end(), extension.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  constexpr const char* kClips[] = {".mkv", ".mp4", ".mov", ".webm", ".avi", ".y4m", ".m4v", ".mpg", ".mxf"};
  return std::find(std::begin(kClips), std::end(kClips), extension) != std::end(kClips);
}

void takeMasks(const po::variables_map& given, FilmJob& job) {
  if (given.count("inside") != 0 && given.count("outside") != 0)
    throw UsageError("--inside and --outside exclude each other; turn one of the masks round");
  job.maskInside = given.count("outside") == 0;
  const char* option = job.maskInside ? "inside" : "outside";
  if (given.count(option) == 0) return;
  for (const std::string& word : given[option].as<std::vector<std::string>>()) {
    if (isClipName(word)) {
      job.maskClip = word;
    } else {
      job.masks.push_back(parseFrameWord(option, word, false));
    }
  }
  if (!job.maskClip.empty() && !job.masks.empty())
    throw UsageError(
        fmt::format("--{} takes a clip of masks or pictures for single frames, not both", option));
  // A picture without a number belongs to the first frame that is worked on.
  if (job.masks.size() == 1 &&
      given[option].as<std::vector<std::string>>()[0].find('=') == std::string::npos &&
      !job.film.from.empty()) {
    std::int64_t from = 0;
    const auto [end, error] =
        std::from_chars(job.film.from.data(), job.film.from.data() + job.film.from.size(), from);
    if (error != std::errc() || end != job.film.from.data() + job.film.from.size())
      throw UsageError(
          fmt::format("say for which frame the mask is: --{} FRAME={}", option, job.masks[0].path.string()));
    job.masks[0].frame = from;
  }
}

fs::path proofName(const fs::path& output) {
  return output.parent_path() / (output.stem().string() + ".proof" + output.extension().string());
}

void requireSense(const FilmJob& job, const po::variables_map& given) {
  if (job.clip.empty()) throw UsageError("film needs a clip: jugendstil film CLIP --after REF -o OUT.mkv");
  if (job.output.empty()) throw UsageError("film needs a place for the result: add -o OUT.mkv");
  if (job.grade && job.references.empty() && job.look.empty())
    throw UsageError("film --grade needs a reference or a look: add --after REF, or --look FILE");
  if (!job.grade && job.references.empty() && job.keys.empty())
    throw UsageError("film needs a reference: add --after REF, or a painted frame with --key FRAME=PICTURE");
  if (!job.grade && !job.look.empty())
    throw UsageError("--look belongs to --grade; add that, or leave the look out");
  if (job.grade && !job.keys.empty())
    throw UsageError("--key leads painted frames; with --grade save a look instead");
  if (job.grade && !job.look.empty() && !job.references.empty())
    throw UsageError("--look and --after exclude each other: a look is already matched");
  for (const char* name : {"method", "amount"}) {
    if (!job.grade && given.count(name) != 0) throw UsageError(fmt::format("--{} belongs to --grade", name));
  }
  if (job.grade) {
    for (const SettingInfo& info : paintSettingTable()) {
      if (ofFilms(info.name) && info.name != "opacity" && info.name != "threads" &&
          given.count(info.name) != 0)
        throw UsageError(fmt::format("--{} is of painting and does nothing with --grade", info.name));
    }
  }
  if (job.proof && (job.output == "-" || isFramePattern(job.output)))
    throw UsageError("--proof writes one small file; name a clip like OUT.mp4");
  std::error_code code;
  if (job.clip != "-" && fs::equivalent(job.clip, job.output, code))
    throw UsageError("the result would replace the clip itself; choose another name with -o");
}

}  // namespace

int filmCommand(const Words& words) {
  auto all = fileOptions();
  all.add(filmOptions()).add(paintingOptions()).add(reportOptions());
  po::positional_options_description positions;
  positions.add("clip", 1);
  const auto given = parseWords(words, all, positions, "film");
  if (given.count("help") != 0) {
    std::cout << "usage: jugendstil film CLIP --after REF -o OUT [options]\n"
                 "       jugendstil film CLIP --grade --after PHOTO -o OUT [options]\n\n"
                 "Paints a clip in the manner of references, each frame led by the ones before it along the "
                 "motion, or grades\n"
                 "it shot by shot. Stopped at any moment, the same command goes on where it stood.\n\n"
                 "  jugendstil film pond.mp4 --after evening.jpg --frames 8 -o draft.mp4\n"
                 "  jugendstil film pond.mp4 --after evening.jpg --inside boat_mask.png --steady 80 --chart "
                 "pond.png -o "
                 "pond_evening.mkv\n"
              << all;
    return 0;
  }
  FilmJob job;
  if (given.count("recipe") != 0) {
    const std::string file = given["recipe"].as<std::string>();
    const Recipe recipe = parseRecipe(readFile(file, kMaxRecipe), file);
    job.paint = recipe.settings;
    if (recipe.start) job.paint.start = recipe.start->path.string();
    job.paint.snapshots = 0;
    job.paint.finish = job.paint.proof = false;
    for (const RecipeInput& r : recipe.references) job.references.push_back({r.path, r.share});
  }
  applyGiven(given, job.paint, ofFilms);
  applyFilm(given, job.film);
  if (given.count("clip") != 0) job.clip = given["clip"].as<std::string>();
  if (given.count("output") != 0) job.output = given["output"].as<std::string>();
  if (given.count("after") != 0) {
    job.references.clear();
    for (const std::string& word : given["after"].as<std::vector<std::string>>())
      job.references.push_back(parseReference(word));
  }
  job.network = given.count("network") != 0 ? fs::path(given["network"].as<std::string>())
                                            : shareFolder() / "networks" / "filigree.onnx";
  job.grade = given.count("grade") != 0;
  if (given.count("look") != 0) job.look = given["look"].as<std::string>();
  if (given.count("key") != 0) {
    for (const std::string& word : given["key"].as<std::vector<std::string>>())
      job.keys.push_back(parseFrameWord("key", word, true));
  }
  takeMasks(given, job);
  if (given.count("chart") != 0) job.chart = given["chart"].as<std::string>();
  job.proof = given.count("proof") != 0;
  job.force = given.count("force") != 0;
  job.dryRun = given.count("dry-run") != 0;
  job.quiet = given.count("quiet") != 0;
  job.progress =
      progressStyle(given.count("progress") != 0 ? given["progress"].as<std::string>() : "auto", job.quiet);
  if (job.output == "-" && job.progress == ProgressStyle::json)
    throw UsageError("--progress json and -o - would both write to standard output; name a file");
  requireSense(job, given);
  if (job.proof) job.output = proofName(job.output).string();
  return runFilmJob(std::move(job));
}

}  // namespace jugendstil::cli
