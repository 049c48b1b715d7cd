// SPDX-License-Identifier: Apache-2.0
// Painting larger than memory, in tiles: jugendstil_tiles
#include <fmt/format.h>

#include <algorithm>

#include "base/parallel.h"
#include "image/picture_file.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/painter.h"

namespace {

using namespace jugendstil;
using namespace bench;

constexpr std::size_t kAllowed = std::size_t{2560} << 20;

// Seconds of the quickest step of a painting of 4096x3072.
double stepTime(std::size_t memory) {
  setThreads(2);
  const std::string share = std::string(JUGENDSTIL_SHARE_SOURCE);
  const Chain chain = readOnnx(share + "/networks/filigree.onnx");
  Image photo = rgbOf(readPicture(share + "/demo/photos/palm_house.jpg").image);
  photo = crop(photo, 0, 0, photo.height * 4 / 3, photo.height);
  const Image reference = rgbOf(readPicture(share + "/demo/references/evening_impasto.jpg").image);
  PaintSettings settings;
  settings.longEdge = 4096;
  settings.brushwork = false;
  settings.levels = 1;
  settings.steps = {3};
  settings.memory = memory;
  double best = 1e9;
  Clock::time_point before;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    if (p.step > 1) best = std::min(best, since(before));
    before = Clock::now();
  };
  paint(chain, {photo, {{reference, 1}}}, settings, callbacks);
  return best;
}

}  // namespace

int main() {
  report("peak memory of painting 4096x3072 in tiles", peakMemory([] { stepTime(kAllowed); }), "MB", 2560,
         true);
  // In turns, because a machine's speed drifts.
  double tiled = 1e9;
  double whole = 1e9;
  for (int i = 0; i < 2; ++i) {
    tiled = std::min(tiled, stepTime(kAllowed));
    whole = std::min(whole, stepTime(std::size_t{64} << 30));
  }
  fmt::print("step at 4096x3072: {:.1f} s in tiles, {:.1f} s whole\n", tiled, whole);
  report("step in tiles against the whole", tiled / whole, "times", 1.6, true);
}
