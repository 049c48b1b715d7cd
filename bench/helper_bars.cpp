// SPDX-License-Identifier: Apache-2.0
// What it costs that files are read by helpers: jugendstil_helper_bars. A photo of 12 megapixels, read in
// turns by a helper and in this process.
#include <OpenImageIO/imageio.h>

#include <algorithm>
#include <filesystem>
#include <vector>

#include "helper/helper.h"
#include "image/picture_decoder.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "measure.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

constexpr int kTurns = 15;
constexpr double kBarMs = 30;

double median(std::vector<double> values) {
  std::nth_element(values.begin(), values.begin() + std::ssize(values) / 2, values.end());
  return values[values.size() / 2];
}

// Decoded where it lies, as floats; no more than any reading takes.
Image readHere(const fs::path& path) {
  PictureDecoder decoder(path);
  const int width = decoder.spec().width;
  Image image(width, decoder.spec().height, decoder.spec().nchannels);
  decoder.read(image.channels, OIIO::TypeDesc::FLOAT, [&](int first, int count, const std::byte* rows) {
    const auto* values = reinterpret_cast<const float*>(rows);
    std::copy_n(values, image.rowLength() * count, image.row(first));
  });
  return image;
}

void compare(const fs::path& path) {
  std::vector<double> helped;
  std::vector<double> here;
  for (int turn = 0; turn < kTurns; ++turn) {
    helped.push_back(bestOf(1, [&] { readPicture(path); }));
    here.push_back(bestOf(1, [&] { readHere(path); }));
  }
  std::printf("%-5s by a helper %.0f ms, in this process %.0f ms: %+.0f ms (bar %.0f)\n",
              path.extension().c_str(), median(helped) * 1e3, median(here) * 1e3,
              (median(helped) - median(here)) * 1e3, kBarMs);
}

}  // namespace

int main() {
  startHelpers();
  const fs::path folder = fs::temp_directory_path() / "jugendstil-helper-bars";
  fs::create_directories(folder);
  const Image photo = readPicture(fs::path(JUGENDSTIL_SHARE_SOURCE) / "demo/photos/palm_house.jpg").image;
  const Image large = resizePhoto(photo, 4000, 3000);
  for (const char* name : {"photo.jpg", "photo.png", "photo.tif"}) {
    writePicture(folder / name, large, Depth::eight);
    compare(folder / name);
  }
  std::vector<double> small;
  for (int turn = 0; turn < kTurns; ++turn)
    small.push_back(
        bestOf(1, [&] { answerOfHelper([](Asker& asker) { asker.answer(asker.next()); }, "", "x"); }));
  std::printf("a helper that has nothing to do: %.1f ms\n", median(small) * 1e3);
  fs::remove_all(folder);
}
