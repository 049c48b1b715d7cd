// SPDX-License-Identifier: Apache-2.0
#include "weave/repeats.h"

#include <algorithm>
#include <cstdint>
#include <cstdlib>

#include "base/number.h"

namespace jugendstil {
namespace {

struct Whole {
  Spot spot = 0;
  PieceSquare square;
};

// All squares that show one of the swatch whole, by the spot of their last pixel.
std::vector<Whole> wholeSquares(const Woven& piece, const Atlas& atlas, int side) {
  const auto width = static_cast<Spot>(atlas.width);
  std::vector<Whole> all;
  // The side of the largest whole square that ends at a pixel, in this row and the one before.
  std::vector<std::uint16_t> before(piece.width, 1);
  std::vector<std::uint16_t> here(piece.width, 1);
  for (int y = 0; y < piece.height; ++y) {
    for (int x = 0; x < piece.width; ++x) {
      here[x] = 1;
      const Spot spot = piece.at(x, y);
      if (y == 0 || x == 0 || piece.at(x - 1, y) + 1 != spot || piece.at(x, y - 1) + width != spot ||
          piece.at(x - 1, y - 1) + width + 1 != spot || piece.stays(cellAt(x, y, piece.width)))
        continue;
      const int whole = 1 + std::min({here[x - 1], before[x], before[x - 1]});
      here[x] = static_cast<std::uint16_t>(std::min(whole, side));
      if (whole >= side) all.push_back({spot, {x - side + 1, y - side + 1}});
    }
    before.swap(here);
  }
  return all;
}

// Squares that were chosen, found again by where they are.
class Chosen {
 public:
  Chosen(const Woven& piece, int side) : side_(side), columns_(piece.width / side + 1) {
    first_.resize(cellCount(columns_, piece.height / side + 1));
  }

  bool overlaps(PieceSquare s) const {
    const int rows = countOf(first_) / columns_;
    for (int j = std::max(0, s.y / side_ - 1); j <= std::min(rows - 1, s.y / side_ + 1); ++j) {
      for (int i = std::max(0, s.x / side_ - 1); i <= std::min(columns_ - 1, s.x / side_ + 1); ++i) {
        for (const PieceSquare& c : first_[cellAt(i, j, columns_)]) {
          if (std::abs(c.x - s.x) < side_ && std::abs(c.y - s.y) < side_) return true;
        }
      }
    }
    return false;
  }
  void add(PieceSquare s) { first_[cellAt(s.x / side_, s.y / side_, columns_)].push_back(s); }

 private:
  int side_;
  int columns_;
  std::vector<std::vector<PieceSquare>> first_;
};

}  // namespace

std::vector<PieceSquare> repeatedSquares(const Woven& piece, const Atlas& atlas, int side, int within) {
  std::vector<Whole> wholes = wholeSquares(piece, atlas, side);
  std::stable_sort(wholes.begin(), wholes.end(),
                   [](const Whole& a, const Whole& b) { return a.spot < b.spot; });
  const auto distance = [](int a, int b, int length, bool repeats) {
    const int d = std::abs(a - b);
    return repeats ? std::min(d, length - d) : d;
  };
  const auto near = [&](PieceSquare a, PieceSquare b) {
    return distance(a.x, b.x, piece.width, piece.repeats.across) < within &&
           distance(a.y, b.y, piece.height, piece.repeats.down) < within;
  };
  Chosen chosen(piece, side);
  std::vector<PieceSquare> list;
  for (std::size_t i = 0; i < wholes.size(); ++i) {
    if (chosen.overlaps(wholes[i].square)) continue;
    for (std::size_t k = i; k-- > 0 && wholes[k].spot == wholes[i].spot;) {
      if (!near(wholes[i].square, wholes[k].square) || chosen.overlaps(wholes[k].square)) continue;
      chosen.add(wholes[i].square);
      list.push_back(wholes[i].square);
      break;
    }
  }
  return list;
}

}  // namespace jugendstil
