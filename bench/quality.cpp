// SPDX-License-Identifier: Apache-2.0
// The picture itself, in numbers: jugendstil_quality [LONG_EDGE]
// Paints all of the demo's photos after all of its references, by the usual settings.
#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <map>

#include "image/picture_file.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/painter.h"
#include "stray_colours.h"

namespace {

using namespace jugendstil;
using namespace bench;
namespace fs = std::filesystem;

const fs::path kShare = JUGENDSTIL_SHARE_SOURCE;

std::map<std::string, Image> picturesIn(const fs::path& folder) {
  std::map<std::string, Image> pictures;
  for (const auto& entry : fs::directory_iterator(folder)) {
    if (entry.path().extension() == ".jpg")
      pictures[entry.path().stem().string()] = rgbOf(readPicture(entry.path()).image);
  }
  return pictures;
}

// Of prints in few inks less may stray.
bool isPrint(const std::string& reference) {
  return reference == "moon_linocut" || reference == "lily_poster";
}

}  // namespace

int main(int count, char** words) {
  PaintSettings settings;
  settings.longEdge = count > 1 ? std::atoi(words[1]) : 320;
  settings.precision = PrecisionChoice::full;
  const Chain chain = readOnnx(kShare / "networks/filigree.onnx");
  const auto references = picturesIn(kShare / "demo/references");
  std::map<bool, double> most;
  for (const auto& [photo, picture] : picturesIn(kShare / "demo/photos")) {
    for (const auto& [name, reference] : references) {
      const PaintResult made = paint(chain, {picture, {{reference, 1}}}, settings, {});
      const double strays = 100 * strayColours(made.painting, reference);
      fmt::print("{} after {}: {:.2f} % of its colours are none of the reference's\n", photo, name, strays);
      std::fflush(stdout);
      most[isPrint(name)] = std::max(most[isPrint(name)], strays);
    }
  }
  report("colours that a print does not have, at most", most[true], "%", 1, true);
  report("colours that a reference does not have, at most", most[false], "%", 3, true);
}
