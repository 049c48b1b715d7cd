// SPDX-License-Identifier: Apache-2.0
#include "paint/by_patches.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "image/mask.h"
#include "paint/finish.h"
#include "paint/plan.h"
#include "paint/reference.h"
#include "weave/along.h"

namespace jugendstil {
namespace {

constexpr int kLeastSide = 32;
// Around a part so much more is woven, in pixels: joins want to know what is beside them.
constexpr int kMargin = 8;

struct Box {
  int x = 0;
  int y = 0;
  int width = 0;
  int height = 0;
  double area() const { return 1.0 * width * height; }
};

// A region in the picture's size.
struct Piece {
  Image mask;  // empty: everywhere
  Box box;
};

// What holds all that counts of a mask, or all of the picture.
Box boxAround(const Image& weights, Size size) {
  if (weights.empty()) return {0, 0, size.width, size.height};
  int left = size.width;
  int right = 0;
  int top = size.height;
  int bottom = 0;
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) {
      if (weights.at(x, y, 0) <= 0) continue;
      left = std::min(left, x);
      right = std::max(right, x + 1);
      top = std::min(top, y);
      bottom = std::max(bottom, y + 1);
    }
  }
  // At least as wide as a block, wherever there is room.
  const auto widen = [](int& from, int& to, int side) {
    const int more = std::max(kMargin, (kLeastSide - (to - from) + 1) / 2);
    from = std::max(0, from - more);
    to = std::min(side, to + more);
  };
  widen(left, right, size.width);
  widen(top, bottom, size.height);
  return {left, top, right - left, bottom - top};
}

std::vector<Piece> piecesOf(const std::vector<Region>& regions, Size size) {
  std::vector<Piece> pieces;
  for (const Region& region : regions) {
    Image mask = region.weights.empty() ? Image() : resizedMask(region.weights, size.width, size.height);
    const Box box = boxAround(mask, size);
    pieces.push_back({std::move(mask), box});
  }
  return pieces;
}

double areaOf(const std::vector<Piece>& pieces) {
  double sum = 0;
  for (const Piece& piece : pieces) sum += piece.box.area();
  return sum;
}

void add(Image& sum, Image& shares, const Image& woven, const Piece& piece) {
  const Box& box = piece.box;
  for (int y = 0; y < box.height; ++y) {
    for (int x = 0; x < box.width; ++x) {
      const std::size_t to = cellAt(box.x + x, box.y + y, sum.width);
      const float weight = piece.mask.empty() ? 1 : piece.mask.pixels[to];
      for (int c = 0; c < 3; ++c) sum.pixel(to)[c] += weight * woven.at(x, y, c);
      shares.pixels[to] += weight;
    }
  }
}

}  // namespace

Size sizeByPatches(const PaintInputs& inputs, const PaintSettings& settings) {
  const Size photo{inputs.photo.width, inputs.photo.height};
  const Size size = sizeForLongEdge(photo.width, photo.height, longEdgeFor(photo, settings));
  if (std::min(size.width, size.height) < kLeastSide)
    throw Error(
        fmt::format("the painting would be {}x{}; weaving along a photo needs at least {} pixels a side",
                    size.width, size.height, kLeastSide));
  return size;
}

double pixelsByPatches(const PaintInputs& inputs, const PaintSettings& settings) {
  return areaOf(piecesOf(regionsOf(inputs, settings), sizeByPatches(inputs, settings)));
}

Image paintByPatches(const PaintInputs& inputs, const PaintSettings& settings,
                     const std::function<void(double)>& progress) {
  const Size size = sizeByPatches(inputs, settings);
  const std::vector<Region> regions = regionsOf(inputs, settings);
  const Image photo = resizePhoto(rgbOf(inputs.photo), size.width, size.height);
  const std::vector<Piece> pieces = piecesOf(regions, size);
  Image painting(size.width, size.height);
  Image shown(size.width, size.height, 1);
  double done = 0;
  for (std::size_t r = 0; r < regions.size(); ++r) {
    const PaintBasis& basis = regions[r].basis;
    const Box& box = pieces[r].box;
    AlongInputs along;
    along.drawing = drawingOf(basis, crop(photo, box.x, box.y, box.width, box.height));
    for (const PaintReference& reference : basis.references)
      along.references.push_back(scaledReference(reference.image, size, settings.stroke));
    along.likeness = std::min(100.0, basis.likeness);
    along.seed = settings.seed;
    const double part = box.area() / areaOf(pieces);
    add(painting, shown, wovenAlong(along, [&](double of) { progress(done + part * of); }), pieces[r]);
    done += part;
  }
  for (std::size_t i = 0; i < painting.area(); ++i) {
    const float share = shown.pixels[i];
    for (int c = 0; c < 3; ++c)
      painting.pixel(i)[c] = share > 0 ? painting.pixel(i)[c] / share : photo.pixel(i)[c];
  }
  if (pieces.front().mask.empty()) shown = {};
  return laidOver(photo, painting, clipped(std::move(shown)), settings);
}

}  // namespace jugendstil
