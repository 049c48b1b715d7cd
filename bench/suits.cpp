// SPDX-License-Identifier: Apache-2.0
// Whether what the shelf says suits a photo does: every photo painted small after every reference, and the
// references in the order of the losses beside that of the shelf.
//   jugendstil_suits [REFERENCES PHOTOS]   two folders; the demo's own without
#include <algorithm>
#include <filesystem>

#include "base/parallel.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/painter.h"
#include "shelf/suiting.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

constexpr int kThreads = 2;
constexpr int kEdge = 160;
constexpr int kSteps = 80;
constexpr std::size_t kFirst = 3;
const fs::path kShare = JUGENDSTIL_SHARE_SOURCE;

struct Known {
  std::string name;
  Image image;
  PictureMeasures measures;
};

std::vector<Known> picturesIn(const std::vector<fs::path>& folders) {
  std::vector<fs::path> files;
  for (const fs::path& folder : folders) {
    for (const auto& entry : fs::directory_iterator(folder)) files.push_back(entry.path());
  }
  std::sort(files.begin(), files.end());
  std::vector<Known> all;
  for (const fs::path& file : files) {
    const Image whole = rgbOf(readPicture(file).image);
    const Size size =
        sizeForLongEdge(whole.width, whole.height, std::min(768, std::max(whole.width, whole.height)));
    all.push_back({file.stem().string(), resizePhoto(whole, size.width, size.height), measuresOf(whole)});
  }
  return all;
}

double lossOf(const Chain& chain, const Known& photo, const Known& reference) {
  PaintSettings settings;
  settings.longEdge = kEdge;
  settings.steps = {kSteps};
  settings.brushwork = false;
  settings.precision = PrecisionChoice::full;
  return paint(chain, {photo.image, {{reference.image, 1}}}, settings, {}).loss.total();
}

}  // namespace

int main(int count, char** words) {
  setThreads(kThreads);
  const bool own = count < 3;
  const auto references = own ? picturesIn({kShare / "demo/references", kShare / "demo/photo_references",
                                            kShare / "demo/swatches"})
                              : picturesIn({words[1]});
  const auto photos = own ? picturesIn({kShare / "demo/photos"}) : picturesIn({words[2]});
  const Chain chain = readOnnx(kShare / "networks/filigree.onnx");
  std::size_t held = 0;
  for (const Known& photo : photos) {
    std::vector<std::pair<double, std::string>> byLoss;
    std::vector<std::pair<double, std::string>> byShelf;
    for (const Known& reference : references) {
      byLoss.emplace_back(lossOf(chain, photo, reference), reference.name);
      byShelf.emplace_back(suiting(photo.measures, reference.measures).misfit, reference.name);
    }
    std::sort(byLoss.begin(), byLoss.end());
    std::sort(byShelf.begin(), byShelf.end());
    const auto rank = std::find_if(byShelf.begin(), byShelf.end(),
                                   [&](const auto& one) { return one.second == byLoss[0].second; }) -
                      byShelf.begin();
    held += static_cast<std::size_t>(rank) < kFirst ? 1 : 0;
    fmt::print(
        "{:<24} best is {} ({:.3f}), number {} of {} on the shelf's list; that begins with {}, {}, {}\n",
        photo.name, byLoss[0].second, byLoss[0].first, rank + 1, references.size(), byShelf[0].second,
        byShelf[1].second, byShelf[2].second);
  }
  report(fmt::format("of {} photos the best is among the first {} for", photos.size(), kFirst),
         static_cast<double>(held), "", 0.8 * static_cast<double>(photos.size()), false);
}
