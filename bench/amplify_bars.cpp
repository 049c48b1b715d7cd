// SPDX-License-Identifier: Apache-2.0
// The bars of amplifying, one line each.
#include <filesystem>

#include "amplify/amplify.h"
#include "amplify/ascent.h"
#include "base/parallel.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/painter.h"

namespace {

using namespace jugendstil;
using namespace bench;

const std::filesystem::path kShare = JUGENDSTIL_SHARE_SOURCE;
constexpr int kThreads = 2;

AmplifySettings fullPrecision() {
  AmplifySettings settings;
  settings.painting.precision = PrecisionChoice::full;
  return settings;
}

Image picture(const char* name) { return rgbOf(readPicture(kShare / "demo" / name).image); }

void amplifyIt(const Chain& chain, const Image& photo, const AmplifySettings& settings) {
  amplified(chain, {photo, {}, {}}, settings, {[](double) {}});
}

void memory() {
  const auto whole = [](const std::function<void(const Chain&, const Image&)>& work) {
    return peakMemory([&] {
      setThreads(kThreads);
      work(readOnnx(kShare / "networks/filigree.onnx"),
           resizePhoto(picture("photos/palm_house.jpg"), 768, 512));
    });
  };
  // One step of a painting holds as much as all of them.
  const double painting = whole([](const Chain& chain, const Image& photo) {
    PaintSettings settings;
    settings.precision = PrecisionChoice::full;
    settings.brushwork = false;
    settings.levels = 1;
    settings.steps = {1};
    paint(chain, {photo, {{picture("references/evening_impasto.jpg"), 1}}}, settings, {});
  });
  const double own =
      whole([](const Chain& chain, const Image& photo) { amplifyIt(chain, photo, fullPrecision()); });
  report("amplified, memory beside a painting's of this size", own / painting, "times", 1.1, true);
}

}  // namespace

int main() {
  // Before there are threads.
  memory();
  setThreads(kThreads);
  const Chain chain = readOnnx(kShare / "networks/filigree.onnx");
  const Image photo = resizePhoto(picture("photos/palm_house.jpg"), 768, 512);
  report("amplified, 768x512, as usual", bestOf(3, [&] { amplifyIt(chain, photo, fullPrecision()); }), "s",
         15, true);
  for (const std::string& band : chain.styleBands) {
    AmplifySettings settings = fullPrecision();
    settings.bands = {{band, 1}};
    const Image out = amplified(chain, {photo, {}, {}}, settings, {[](double) {}});
    fmt::print("  band {}: {:.3f} from the photo\n", band, distanceOf(out, photo));
    std::fflush(stdout);
  }
}
