// SPDX-License-Identifier: Apache-2.0
#include "paint/reference.h"

#include <algorithm>
#include <cmath>

#include "base/number.h"
#include "image/resample.h"
#include "paint/canvas.h"
#include "style/surface.h"

namespace jugendstil {
namespace {

constexpr double kMostEnlargement = 1.5;
constexpr int kLeastSide = 32;
constexpr int kMirror = 32;
constexpr int kLeastPatchStride = 4;
constexpr std::size_t kColourSamples = 16384;

// Even parts, none much larger than the picture itself, so that a reference never costs more memory than
// the painting.
std::vector<Image> partsOf(const Image& image, double mostArea) {
  const double ratio = static_cast<double>(image.area()) / mostArea;
  const int n = std::max(1, static_cast<int>(std::ceil(std::sqrt(ratio))));
  std::vector<Image> parts;
  for (int j = 0; j < n; ++j) {
    for (int i = 0; i < n; ++i) {
      const int x = image.width * i / n;
      const int y = image.height * j / n;
      parts.push_back(crop(image, x, y, image.width * (i + 1) / n - x, image.height * (j + 1) / n - y));
    }
  }
  return parts;
}

// Patches of the finest bands are grain, of which there are very many: grain is matched as a whole.
MeasureKind kindFor(MeasureKind asked, const Band& band) {
  return asked == MeasureKind::neighbours && band.stride < kLeastPatchStride ? MeasureKind::gram : asked;
}

}  // namespace

Size scaledSize(Size reference, Size picture, double stroke) {
  const double area = 1.0 * reference.width * reference.height;
  const double wanted = stroke * std::sqrt(1.0 * picture.width * picture.height / area);
  const double least = 1.0 * kLeastSide / std::min(reference.width, reference.height);
  const double scale = std::max(least, std::min(wanted, kMostEnlargement));
  return {std::max(1, rounded(reference.width * scale)), std::max(1, rounded(reference.height * scale))};
}

Image scaledReference(const Image& image, Size picture, double stroke) {
  const Size size = scaledSize({image.width, image.height}, picture, stroke);
  return resizePhoto(image, size.width, size.height);
}

ReferenceTargets measureReferences(const Chain& chain, const std::vector<PaintReference>& references,
                                   Size picture, double stroke, MeasureKind kind, Precision precision,
                                   std::size_t budget) {
  ReferenceTargets targets;
  std::vector<std::size_t> bands;
  for (const std::string& name : chain.styleBands) {
    bands.push_back(chain.bandIndex(name));
    targets.bands.emplace_back(kindFor(kind, chain.bands[bands.back()]), bands.back());
  }
  double mostArea = 1.3 * picture.width * picture.height;
  if (budget > 0) {
    constexpr int kSide = 1024;
    const auto each =
        static_cast<double>(Evaluator::memoryFor(chain, kSide, kSide, precision)) / (kSide * kSide);
    mostArea = std::min(mostArea, static_cast<double>(budget) / each);
  }
  std::vector<Planes> colours;
  std::vector<double> shares;
  for (const PaintReference& reference : references) {
    const Image scaled = scaledReference(reference.image, picture, stroke);
    colours.push_back(opponentOf(scaled));
    shares.push_back(reference.share);
    const std::vector<Image> parts = partsOf(scaled, mostArea);
    for (const Image& part : parts) {
      // The picture is painted inside a mirrored margin; its references are seen through the same one.
      const Image padded = mirrorPad(part, kMirror, kMirror, kMirror, kMirror);
      Evaluator evaluator(chain, padded.width, padded.height, precision, bands);
      const Planes shown = forwardPicture(evaluator, padded);
      for (BandStatistics& statistics : targets.bands) {
        statistics.add(evaluator, reference.share / static_cast<double>(parts.size()));
      }
    }
  }
  targets.colours = colourSamples(colours, shares, kColourSamples);
  return targets;
}

Image middleOf(Image image, double area) {
  const double part = std::sqrt(area / static_cast<double>(image.area()));
  if (part >= 1) return image;
  const int width = std::max(1, static_cast<int>(image.width * part));
  const int height = std::max(1, static_cast<int>(image.height * part));
  return crop(image, (image.width - width) / 2, (image.height - height) / 2, width, height);
}

}  // namespace jugendstil
