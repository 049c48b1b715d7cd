// SPDX-License-Identifier: Apache-2.0
#include "seeds.h"

#include <cmath>
#include <cstdint>
#include <cstdlib>

#include "base/error.h"
#include "base/file.h"
#include "clip/clip_writer.h"
#include "image/layered_file.h"
#include "image/picture_file.h"
#include "image/resample.h"

namespace fuzz {
namespace {

namespace fs = std::filesystem;
using namespace jugendstil;

const fs::path kSource = JUGENDSTIL_SOURCE;

// A fifth of a second of a falling tone, as WAVE has it (16 bits, one channel).
std::string tone() {
  constexpr int kRate = 8000;
  constexpr int kSamples = kRate / 5;
  const auto number = [](std::uint32_t value, int bytes) {
    std::string text;
    for (int i = 0; i < bytes; ++i) text += static_cast<char>(value >> (8 * i) & 0xFF);
    return text;
  };
  std::string data;
  for (int i = 0; i < kSamples; ++i)
    data += number(static_cast<std::uint16_t>(std::lround(8000 * std::sin(600.0 / (i + 200) * i))), 2);
  const std::string format =
      number(1, 2) + number(1, 2) + number(kRate, 4) + number(kRate * 2, 4) + number(2, 2) + number(16, 2);
  const std::string chunks = "WAVEfmt " + number(16, 4) + format + "data" +
                             number(static_cast<std::uint32_t>(data.size()), 4) + data;
  return "RIFF" + number(static_cast<std::uint32_t>(chunks.size()), 4) + chunks;
}

std::string contentOf(const fs::path& file) { return readFile(file, std::size_t{1} << 26); }

// The program itself makes what has no writer of its own.
void run(const std::string& words, const fs::path& folder) {
  const std::string line = "cd '" + folder.string() +
                           "' && GOMP_SPINCOUNT=2000 XDG_CONFIG_HOME=. XDG_CACHE_HOME=. XDG_DATA_HOME=. '" +
                           std::string(JUGENDSTIL_PROGRAM) + "' " + words + " >said 2>&1";
  if (std::system(line.c_str()) != 0) throw Error("jugendstil " + words + ": " + contentOf(folder / "said"));
}

// Stopped (Ctrl-C) at a moment at which `left` lies there.
void stop(const std::string& words, const fs::path& folder, const fs::path& left) {
  for (const char* moment : {"0.5", "0.6", "0.8", "1", "1.3", "1.6", "2", "2.5", "3", "4"}) {
    const std::string line = "cd '" + folder.string() +
                             "' && GOMP_SPINCOUNT=2000 XDG_CACHE_HOME=. XDG_DATA_HOME=. timeout -s INT " +
                             moment + " '" + JUGENDSTIL_PROGRAM + "' " + words + " >said 2>&1";
    if (std::system(line.c_str()) != 0 && fs::exists(folder / left)) return;
  }
  throw Error("jugendstil " + words + " was not stopped: " + contentOf(folder / "said"));
}

std::string joined(const std::vector<std::string>& words) {
  std::string all;
  for (const std::string& word : words) all += word + " ";
  return all;
}

const std::vector<std::string> kPaint{"paint", "photo.png",   "--after", "reference.png", "--levels",
                                      "1",     "--long-edge", "48",      "--brushwork=no"};
const std::vector<std::string> kFilm{"film", "clip.mkv",    "--after", "reference.png", "--levels",
                                     "1",    "--long-edge", "48",      "--brushwork=no"};

std::vector<std::string> with(std::vector<std::string> words, const std::vector<std::string>& more) {
  words.insert(words.end(), more.begin(), more.end());
  return words;
}

const std::vector<std::string> kStoppedPaint = with(kPaint, {"--steps", "40", "-q", "-o", "out.png"});
const std::vector<std::string> kStoppedFilm = with(kFilm, {"--steps", "12", "-q", "-o", "out.mkv"});

Image small(const char* name, int width, int height) {
  return resizePhoto(readPicture(kSource / "demo" / name).image, width, height);
}

void makeFiles(const fs::path& folder) {
  fs::create_directories(folder);
  const Image photo = small("photos/gate.jpg", 96, 64);
  const Image reference = small("references/moor_wash.jpg", 72, 64);
  for (const char* name : {"photo.png", "photo.jpg", "photo.webp", "photo.exr"})
    writePicture(folder / name, photo, Depth::eight);
  writePicture(folder / "photo.tif", photo, Depth::sixteen);
  writePicture(folder / "reference.png", reference, Depth::eight);
  Image layer(96, 64, 4, 0.5F);
  writeOpenRaster(folder / "layers.ora", {{"photo", photo}, {"painting", layer}}, photo, Depth::eight);
  fs::copy(kSource / "demo/drawings/lily.svg", folder / "lily.svg");
  fs::copy(kSource / "demo/drawings/path.svg", folder / "path.svg");
  run("grade photo.png --after reference.png -o graded.png --save-look look.look.toml", folder);
  run("look look.look.toml -o look.cube -o look.clf -o hald.png", folder);
  run(joined(with(kPaint, {"--steps", "2", "-o", "painted.png"})), folder);
  run("weave reference.png --size 48x48 -o woven.png", folder);
  ClipFormat format;
  format.width = 96;
  format.height = 64;
  format.rate = {25, 1};
  format.timeBase = {1, 25};
  const auto clip = createClip((folder / "clip.mkv").string(), format, std::nullopt);
  for (int time = 0; time < 3; ++time) clip->write(time == 1 ? resizePhoto(reference, 96, 64) : photo, time);
  clip->finish();
  run("film clip.mkv --look look.look.toml -o film.mkv", folder);
  for (const char* name : {"film.mp4", "film.webm"})
    run("film film.mkv --look look.look.toml -o " + std::string(name), folder);
  run("shelf add reference.png look.look.toml --shelf shelf", folder);
  run("shelf export --shelf shelf -o shelf.zip", folder);
  run("amplify photo.png --long-edge 48 -q -o amplified.png", folder);
  run("dive photo.png --length 2 --long-edge 48 -q -o dive.mkv", folder);
  stop(joined(kStoppedPaint), folder, "out.png.unfinished");
  stop(joined(kStoppedFilm), folder, fs::path("out.mkv.work") / "painted_000000.png");
}

}  // namespace

std::vector<Kind> seedsIn(const fs::path& folder) {
  makeFiles(folder);
  std::vector<Kind> kinds;
  const auto all = [&](const std::vector<std::string>& names) {
    std::vector<std::string> files;
    for (const std::string& name : names) files.push_back(contentOf(folder / name));
    return files;
  };
  for (const char* name : {"photo.png", "photo.jpg", "photo.tif", "photo.webp", "photo.exr"}) {
    const std::string damaged = std::string("damaged") + fs::path(name).extension().string();
    kinds.push_back({name,
                     damaged,
                     all({name}),
                     {"look.look.toml", "reference.png"},
                     {{"mask", damaged, "--all", "-o", "out.png"},
                      {"grade", damaged, "--look", "look.look.toml", "-q", "-o",
                       "out" + fs::path(name).extension().string()},
                      {"grade", damaged, "--look", "look.look.toml", "-q", "-o", "out.png"},
                      {"grade", "reference.png", "--after", damaged, "-q", "-o", "out.png"},
                      {"paint", damaged, "--after", "reference.png", "--levels", "1", "--steps", "1",
                       "--long-edge", "48", "-q", "-o", "out.png"}}});
  }
  kinds.push_back({"drawing",
                   "damaged.svg",
                   all({"lily.svg", "path.svg"}),
                   {"photo.png"},
                   {{"mask", "photo.png", "--drawing", "damaged.svg", "-o", "out.png"}}});
  kinds.push_back({"look",
                   "damaged.look.toml",
                   all({"look.look.toml"}),
                   {"photo.png"},
                   {{"look", "damaged.look.toml", "--in-words"},
                    {"grade", "photo.png", "--look", "damaged.look.toml", "-q", "-o", "out.png"}}});
  for (const char* name : {"look.cube", "look.clf", "hald.png"}) {
    const std::string damaged = std::string("damaged") + fs::path(name).extension().string();
    kinds.push_back({name,
                     damaged,
                     all({name}),
                     {"photo.png"},
                     {{"look", damaged, "-q", "-o", "out.toml"},
                      {"grade", "photo.png", "--look", damaged, "-q", "-o", "out.png"}}});
  }
  for (const char* name : {"painted.recipe.toml", "woven.recipe.toml", "graded.recipe.toml",
                           "film.recipe.toml", "amplified.recipe.toml", "dive.recipe.toml"}) {
    kinds.push_back({name,
                     "damaged.recipe.toml",
                     all({name}),
                     {"photo.png", "reference.png"},
                     {{"history", "."},
                      {"history", "damaged.recipe.toml", "damaged.recipe.toml"},
                      {"shelf", "add", "damaged.recipe.toml"},
                      {"redo", "damaged.recipe.toml", "--dry-run", "-o", "out.png"}}});
  }
  for (const char* name : {"film.mkv", "film.mp4", "film.webm"}) {
    const std::string damaged = std::string("damaged") + fs::path(name).extension().string();
    kinds.push_back({name,
                     damaged,
                     all({name}),
                     {"look.look.toml", "film.mkv"},
                     {{"film", damaged, "--look", "look.look.toml", "-q", "--frames", "2", "-o", "out.mkv"},
                      {"compare", "--steadiness", "film.mkv", damaged}}});
  }
  kinds.push_back(
      {"layers",
       "damaged.ora",
       all({"layers.ora"}),
       {},
       {{"lay", "damaged.ora"},
        {"lay", "damaged.ora", "--layer", "painting", "--opacity", "40", "-q", "-o", "out.png"}}});
  kinds.push_back(
      {"network",
       "damaged.onnx",
       {contentOf(kSource / "networks/general.onnx"), contentOf(kSource / "networks/filigree.onnx")},
       {"photo.png", "reference.png"},
       {{"network", "damaged.onnx"},
        with(kPaint, {"--network", "damaged.onnx", "--steps", "1", "-q", "-o", "out.png"}),
        {"paint", "photo.png", "--with", "damaged.onnx", "-q", "-o", "out.png"}}});
  kinds.push_back({"defaults",
                   "home/jugendstil/defaults.toml",
                   {"[paint]\nlikeness = 40\nstroke = 3\n[grade]\nstrength = 80\n[film]\nsteps = 10\n"},
                   {"photo.png", "reference.png"},
                   {{"grade", "photo.png", "--after", "reference.png", "-q", "-o", "out.png"}}});
  kinds.push_back({"sound",
                   "damaged.wav",
                   {tone()},
                   {"photo.png"},
                   {{"dive", "photo.png", "--sound", "damaged.wav", "--follow-sound", "zoom=bass",
                     "--dry-run", "-o", "out.mkv"}}});
  kinds.push_back({"path",
                   "damaged.toml",
                   {"ease = \"smooth\"\n[[key]]\nat = 0\nzoom = 1.0\n[[key]]\nat = \"2s\"\nzoom = 1.03\n"
                    "centre = \"60%,40%\"\nturn = -0.3\n"},
                   {"photo.png"},
                   {{"dive", "photo.png", "--path", "damaged.toml", "--dry-run", "-o", "out.mkv"}}});
  kinds.push_back({"state",
                   "out.png.unfinished",
                   all({"out.png.unfinished"}),
                   {"photo.png", "reference.png", "out.recipe.toml"},
                   {kStoppedPaint, with(kStoppedPaint, {"--force"})}});
  for (const char* name : {"journal.jsonl", "painted_000000.png"}) {
    const fs::path damaged = fs::path("out.mkv.work") / name;
    kinds.push_back({name,
                     damaged,
                     all({damaged}),
                     {"clip.mkv", "reference.png", "out.mkv.work"},
                     {kStoppedFilm, with(kStoppedFilm, {"--force"})}});
  }
  kinds.push_back({"shelf.db",
                   "shelf/shelf.db",
                   all({"shelf/shelf.db"}),
                   {"shelf", "reference.png", "photo.png"},
                   {{"shelf", "list", "--shelf", "shelf"},
                    {"shelf", "find", "re", "--shelf", "shelf"},
                    {"shelf", "add", "photo.png", "--shelf", "shelf"},
                    {"shelf", "suits", "photo.png", "--shelf", "shelf"},
                    {"shelf", "check", "--shelf", "shelf"},
                    {"shelf", "export", "--shelf", "shelf", "-o", "out.zip"}}});
  kinds.push_back({"shelf.zip", "damaged.zip", all({"shelf.zip"}), {}, {{"shelf", "import", "damaged.zip"}}});
  return kinds;
}

}  // namespace fuzz
