#include <fmt/format.h>

#include <algorithm>
#include <iostream>

#include "cli/options.h"
#include "cli/paint_job.h"
#include "image/error.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

struct Titled {
  const char* file;
  const char* title;
  const char* shortName;
};
constexpr Titled kPhotos[] = {{"palm_house.jpg", "The palm house across the lily pond", "palm house"},
                              {"potting_bench.jpg", "The potting bench", "potting bench"}};
constexpr Titled kReferences[] = {{"evening_impasto.jpg", "Evening at the lily pond, oil", "evening"},
                                  {"sun_lily_mosaic.jpg", "The sun lily, mosaic", "mosaic"},
                                  {"moon_linocut.jpg", "Moon over the garden, linocut", "linocut"}};
constexpr int kDemoEdge = 768;

std::string stem(const char* file) { return fs::path(file).stem().string(); }

}  // namespace

int demoCommand(const Words& words) {
  po::options_description all("Options", 100, 60);
  all.add_options()("folder", po::value<std::string>()->value_name("DIR"),
                    "where the pictures go (jugendstil-demo)");
  all.add_options()("long-edge", po::value<std::string>()->value_name("PX"),
                    "longer side of the paintings (768)");
  all.add_options()("steps", po::value<std::string>()->value_name("N[,N...]"), "steps of each level (auto)");
  all.add(reportOptions());
  po::positional_options_description positions;
  positions.add("folder", 1);
  const auto given = parseWords(words, all, positions, "demo");
  if (given.count("help") != 0) {
    std::cout << "usage: jugendstil demo [DIR] [options]\n\n"
                 "Paints the Palmarium's photos after each of its references and lays all on one sheet.\n\n"
                 "  jugendstil demo\n  jugendstil demo /tmp/look --long-edge 384\n"
              << all;
    return 0;
  }
  const fs::path folder =
      given.count("folder") != 0 ? given["folder"].as<std::string>() : std::string("jugendstil-demo");
  const fs::path share = shareFolder() / "demo";
  PaintJob job;
  job.force = given.count("force") != 0;
  job.dryRun = given.count("dry-run") != 0;
  job.quiet = given.count("quiet") != 0;
  job.progress =
      progressStyle(given.count("progress") != 0 ? given["progress"].as<std::string>() : "auto", job.quiet);
  job.recipe.settings.longEdge = kDemoEdge;
  for (const char* name : {"long-edge", "steps"}) {
    if (given.count(name) != 0) setPaintSetting(job.recipe.settings, name, given[name].as<std::string>());
  }
  std::error_code code;
  if (!job.dryRun) fs::create_directories(folder, code);
  if (code) throw Error(fmt::format("cannot make the folder {}: {}", folder.string(), code.message()));

  // References across the top, photos down the side, each painting where the two meet.
  SheetOptions sheet;
  sheet.title = "Palmarium Ostermoor: photos painted after references";
  sheet.columns = 1 + static_cast<int>(std::size(kReferences));
  std::vector<SheetCell> cells(1);
  for (const Titled& reference : kReferences) {
    cells.push_back({readPicture(share / "references" / reference.file).image, reference.title, "reference"});
  }
  for (const Titled& photo : kPhotos) {
    cells.push_back({readPicture(share / "photos" / photo.file).image, photo.title, "photo"});
    for (const Titled& reference : kReferences) {
      PaintJob one = job;
      one.recipe.photo = RecipeInput{share / "photos" / photo.file, "", 1};
      one.recipe.references = {RecipeInput{share / "references" / reference.file, "", 1}};
      one.recipe.network = RecipeInput{shareFolder() / "networks" / "filigree.onnx", "", 1};
      one.output = folder / fmt::format("{}-after-{}.png", stem(photo.file), stem(reference.file));
      const int outcome = runPaintJob(one);
      if (outcome != 0) return outcome;
      if (job.dryRun) continue;
      cells.push_back({readPicture(one.output).image,
                       fmt::format("{} after {}", photo.shortName, reference.shortName),
                       one.output.filename().string()});
    }
  }
  if (job.dryRun) return 0;
  const fs::path target = folder / "sheet.png";
  if (fs::exists(target, code) && !job.force)
    throw Error(fmt::format("{} exists already; add --force to replace it", target.string()));
  writePicture(target, contactSheet(cells, sheet), Depth::eight);
  fmt::print("{}: all of them side by side\n", target.string());
  return 0;
}

}  // namespace jugendstil::cli
