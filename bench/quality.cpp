// SPDX-License-Identifier: Apache-2.0
// The picture itself, in numbers: jugendstil_quality [LONG_EDGE [colours|surface]]
// Paints by the usual settings: all of the demo's photos after all of its references, at likeness 50 and 20,
// for colours and outlines; photos with nothing in them but light, for the surface.
#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <map>

#include "image/edges.h"
#include "image/picture_file.h"
#include "measure.h"
#include "network/chain_file.h"
#include "outlines.h"
#include "paint/frame.h"
#include "paint/painter.h"
#include "paint/reference.h"
#include "stray_colours.h"
#include "surface_grain.h"
#include "synthetic_photos.h"

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

// Areas smaller than this are no main ones.
constexpr double kMain = 0.005;

struct Outlines {
  double mean = 0;   // by area
  double least = 1;  // of the main areas
};

Outlines outlinesOf(const Image& photo, const Image& painting) {
  Outlines all;
  double area = 0;
  for (const Outline& o : outlinesKept(photo, painting)) {
    if (o.area < kMain) continue;
    all.mean += o.area * o.kept;
    area += o.area;
    all.least = std::min(all.least, o.kept);
  }
  all.mean /= area;
  return all;
}

constexpr double kScales[] = {2, 4, 8};  // of strokes, pixels

// How far one surface is from another: 1 is the same.
struct Surface {
  double hatching = 0;
  std::vector<Strokes> strokes;  // one a scale
};

Surface surfaceBeside(const Image& picture, const Image& whole) {
  Surface surface{axesOverDiagonals(picture) / axesOverDiagonals(whole), {}};
  for (const double scale : kScales) {
    const Strokes own = strokesOf(picture, scale);
    const Strokes theirs = strokesOf(whole, scale);
    surface.strokes.push_back({own.anisotropy / theirs.anisotropy, own.length / theirs.length});
  }
  return surface;
}

// Smallest and largest of several, as words.
std::string rangeOf(const std::vector<Surface>& all) {
  const auto range = [&](const auto& valueOf) {
    const auto [least, most] = std::minmax_element(
        all.begin(), all.end(), [&](const Surface& a, const Surface& b) { return valueOf(a) < valueOf(b); });
    return fmt::format("{:.2f} to {:.2f}", valueOf(*least), valueOf(*most));
  };
  std::string words = "hatching " + range([](const Surface& s) { return s.hatching; });
  for (std::size_t i = 0; i < std::size(kScales); ++i)
    words += fmt::format("; {} px: anisotropy {}, length {}", kScales[i],
                         range([i](const Surface& s) { return s.strokes[i].anisotropy; }),
                         range([i](const Surface& s) { return s.strokes[i].length; }));
  return words;
}

class Quality {
 public:
  explicit Quality(int longEdge) {
    settings_.longEdge = longEdge;
    settings_.precision = PrecisionChoice::full;
  }

  void coloursAndOutlines(double likeness, double bar) {
    settings_.likeness = likeness;
    std::map<bool, double> most;
    double widest = 0;
    Outlines all;
    int count = 0;
    for (const auto& [photo, picture] : picturesIn(kShare / "demo/photos")) {
      for (const auto& [name, reference] : references_) {
        const Image painting = painted(picture, reference);
        const double strays = 100 * strayColours(painting, reference);
        const Outlines kept = outlinesOf(picture, painting);
        const Image beside = scaledReference(reference, {painting.width, painting.height}, 1);
        const double width = edgeWidth(painting) / edgeWidth(beside);
        if (isPrint(name)) widest = std::max(widest, width);
        fmt::print(
            "{} after {} at likeness {}: {:.2f} % stray colours; outlines {:.2f}, of one area {:.2f}; edges "
            "{:.2f} times as wide\n",
            photo, name, likeness, strays, kept.mean, kept.least, width);
        std::fflush(stdout);
        most[isPrint(name)] = std::max(most[isPrint(name)], strays);
        all.mean += kept.mean;
        all.least = std::min(all.least, kept.least);
        ++count;
      }
    }
    report("colours that a print does not have, at most", most[true], "%", 1, true);
    report("width of a print's edges beside the reference's, at most", widest, "times", 1.1, true);
    report("colours that a reference does not have, at most", most[false], "%", 3, true);
    report(fmt::format("an area's outline at likeness {}, at least", likeness), all.least, "", bar, false);
    fmt::print("outlines at likeness {}, mean of the pairs: {:.2f}\n", likeness, all.mean / count);
  }

  // Beside the reference in the size that its brush-work has there; and the reference's own quarters beside
  // the whole of it, for no surface is the same everywhere.
  void surface() {
    const Size size{settings_.longEdge, settings_.longEdge * 2 / 3};
    settings_.likeness = 50;
    double hatched = 0;
    double otherLength = 0;
    double otherAnisotropy = 0;
    for (const auto& [name, reference] : references_) {
      const Image beside = scaledReference(trimmed(reference, settings_.trim), size, 1);
      std::vector<Surface> quarters;
      for (int i = 0; i < 4; ++i)
        quarters.push_back(surfaceBeside(crop(beside, i % 2 * beside.width / 2, i / 2 * beside.height / 2,
                                              beside.width / 2, beside.height / 2),
                                         beside));
      fmt::print("quarters of {}: {}\n", name, rangeOf(quarters));
      std::vector<Surface> all;
      for (int i = 0; i < kSyntheticPhotos; ++i) {
        all.push_back(surfaceBeside(painted(syntheticPhoto(i, size.width, size.height), reference), beside));
        hatched = std::max(hatched, all.back().hatching);
        for (const Strokes& s : all.back().strokes) {
          otherAnisotropy = std::max(otherAnisotropy, std::abs(s.anisotropy - 1));
          otherLength = std::max(otherLength, std::abs(s.length - 1));
        }
      }
      fmt::print("lights after {}: {}\n", name, rangeOf(all));
      std::fflush(stdout);
    }
    report("hatching beside the reference's, at most", hatched, "times", 1.1, true);
    report("strokes' anisotropy, furthest from the reference's", 100 * otherAnisotropy, "%", 20, true);
    report("strokes' length, furthest from the reference's", 100 * otherLength, "%", 20, true);
  }

 private:
  Image painted(const Image& photo, const Image& reference) const {
    return paint(chain_, {photo, {{reference, 1}}}, settings_, {}).painting;
  }

  PaintSettings settings_;
  Chain chain_ = readOnnx(kShare / "networks/filigree.onnx");
  std::map<std::string, Image> references_ = picturesIn(kShare / "demo/references");
};

}  // namespace

int main(int count, char** words) {
  const std::string wanted = count > 2 ? words[2] : "";
  Quality quality(count > 1 ? std::atoi(words[1]) : 320);
  if (wanted != "surface") {
    quality.coloursAndOutlines(50, 0.6);
    quality.coloursAndOutlines(20, 0.35);
  }
  if (wanted != "colours") quality.surface();
}
