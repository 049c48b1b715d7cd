// SPDX-License-Identifier: Apache-2.0
// The bars of the shelf, one line each: a thousand pictures of 2 megapixels put on it, and what is asked of
// ten thousand entries that are made up.
#include <filesystem>
#include <random>

#include "base/file.h"
#include "base/parallel.h"
#include "image/colour.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "measure.h"
#include "shelf/adding.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

constexpr int kThreads = 2;
constexpr int kPictures = 1000;
constexpr int kEntries = 10000;
const fs::path kShare = JUGENDSTIL_SHARE_SOURCE;

// One picture of 1664x1248 many times, each a file of its own; alike files take as long as others.
std::vector<fs::path> manyPictures(const fs::path& folder) {
  const Image photo = rgbOf(readPicture(kShare / "demo/photos/palm_house.jpg").image);
  fs::create_directories(folder);
  std::vector<fs::path> files;
  Image picture = resizePhoto(photo, 1664, 1248);
  const fs::path first = folder / "first.jpg";
  writePicture(first, picture, Depth::eight);
  for (int i = 0; i < kPictures; ++i) {
    files.push_back(folder / fmt::format("picture_{:04}.jpg", i));
    fs::copy_file(first, files.back());
    // Behind the picture's end nobody looks, but the content is another.
    File file(files.back(), File::Mode::append);
    file.write(fmt::format("{}", i));
  }
  return files;
}

void timeAdding(const fs::path& folder) {
  const auto files = manyPictures(folder / "pictures");
  Shelf shelf(folder / "shelf");
  const auto begin = Clock::now();
  std::size_t fresh = 0;
  addFiles(shelf, files, {}, [&](const AddedFile& one) { fresh += one.as == AddedAs::fresh ? 1 : 0; });
  report(fmt::format("{} pictures of 2 megapixels put on the shelf", fresh), since(begin), "s", 60, true);
}

PictureMeasures madeUp(std::mt19937& random) {
  std::uniform_real_distribution<float> part(0, 1);
  Image picture(16, 12, 3);
  const float base[] = {part(random), part(random), part(random)};
  for (std::size_t i = 0; i < picture.pixels.size(); ++i)
    picture.pixels[i] = std::clamp(base[i % 3] + 0.3F * (part(random) - 0.5F), 0.0F, 1.0F);
  return measuresOf(picture);
}

void makeUp(Shelf& shelf) {
  std::mt19937 random(1);
  const std::vector<std::string> words{"oil",   "night", "ink",  "wash", "lino",
                                       "chalk", "rain",  "gold", "moor", "glass"};
  Transaction transaction(shelf.database());
  for (int i = 0; i < kEntries; ++i) {
    ShelfEntry entry;
    entry.name = fmt::format("{}_{}_{}", words[random() % 10], words[random() % 10], i);
    entry.path = "/pictures/" + entry.name + ".jpg";
    entry.checksum = fmt::format("{:040}", i);
    entry.tags = {words[random() % 10], words[random() % 10]};
    entry.tags = labelWords(entry.tags);
    shelf.put(entry, {std::string(9000, 'x'), madeUp(random)});
  }
  transaction.commit();
}

void timeFinding(const fs::path& folder) {
  Shelf shelf(folder / "many");
  makeUp(shelf);
  const auto time = [&](const char* what, const ShelfSearch& search) {
    std::size_t found = 0;
    const double ms = 1000 * bestOf(9, [&] { found = shelf.find(search).size(); });
    report(fmt::format("{} of {} entries found {}", found, kEntries, what), ms, "ms", 50, true);
  };
  ShelfSearch words;
  words.words = "night gol";
  time("by words", words);
  ShelfSearch tags;
  tags.tags = {"oil", "rain"};
  time("by tags", tags);
  ShelfSearch colour;
  colour.colour = oklabOf({srgbToLinear(0.125F), srgbToLinear(0.25F), srgbToLinear(0.375F)});
  colour.most = 12;
  time("by colour", colour);
  std::mt19937 random(2);
  ShelfSearch like;
  like.like = madeUp(random);
  like.most = 12;
  time("by likeness", like);
  ShelfSearch suits;
  suits.suits = like.like;
  suits.most = 12;
  std::size_t found = 0;
  const double seconds = bestOf(9, [&] { found = shelf.find(suits).size(); });
  report(fmt::format("{} of {} entries found that suit a photo", found, kEntries), seconds, "s", 2, true);
}

}  // namespace

int main() {
  setThreads(kThreads);
  const fs::path folder = fs::temp_directory_path() / fmt::format("jugendstil-shelf-{}", getpid());
  fs::create_directories(folder);
  timeFinding(folder);
  timeAdding(folder);
  fs::remove_all(folder);
}
