// SPDX-License-Identifier: Apache-2.0
// What the solver moves: a Laplacian pyramid of opponent planes (Burt & Adelson 1983), in which a step
// changes strokes rather than pixels (Mordvintsev, Pezzotti, Schubert & Olah 2018).
#pragma once

#include <array>
#include <span>
#include <vector>

#include "image/planes.h"

namespace jugendstil {

class Pyramid {
 public:
  static constexpr int kLevels = 5;

  // Sides must be multiples of 16, so that four halvings are exact. Throws Error otherwise.
  Pyramid(int width, int height);

  // One range per level and plane in the flat vector of coefficients; level 0 is the finest.
  struct Range {
    int level;
    int plane;
    int width;
    int height;
    std::size_t begin;
    std::size_t end;
  };
  const std::vector<Range>& ranges() const { return ranges_; }
  const Range& range(int level, int plane) const { return ranges_[level * 3 + plane]; }
  std::size_t size() const { return ranges_.back().end; }

  // The coefficients whose reconstruction is the picture, exactly to rounding.
  std::vector<float> decompose(const Planes& opponent) const;

  // Sum of all levels, each enlarged to full size.
  void reconstruct(std::span<const float> coefficients, Planes& opponent) const;

  // The transpose of reconstruct(): the gradient with respect to the coefficients.
  void pullBack(const Planes& gradient, std::span<float> coefficients) const;

  // The same for one plane's levels above the finest, by level; the finest one's is the plane's own gradient.
  using Slopes = std::array<std::vector<float>, kLevels>;
  void pullBackPlane(const Planes& gradient, int plane, Slopes& slopes) const;

 private:
  std::vector<Range> ranges_;
};

}  // namespace jugendstil
