// SPDX-License-Identifier: Apache-2.0
// The colours that pictures are made of, and pictures kept to them: a print in few inks stays one.
#pragma once

#include <cstdint>
#include <vector>

#include "image/cielab.h"
#include "image/image.h"

namespace jugendstil {

class Inks {
 public:
  // Colours further than this (CIELAB) from every ink are none of the pictures'.
  static constexpr float kFarthest = 5;

  // Colours (of RGB, display-encoded) around which a picture has one in some thousand of its pixels.
  explicit Inks(const std::vector<const Image*>& pictures);

  // The picture (RGB, display-encoded) with colours that are none of the inks' moved to that distance from
  // the nearest; neighbours that move do so alike, so that none jump out where two inks are as near. All
  // others stay as they are. Not for films: what goes to one ink now may go to another in the next frame.
  Image keptTo(const Image& picture) const;

  // How many cells of CIELAB are inks.
  std::size_t count() const { return count_; }

 private:
  void add(const Image& picture);
  CieLab inkFor(const CieLab& colour) const;
  bool has(const CieLab& colour) const;
  // The move to where a colour is one of the inks', after a first part of it.
  CieLab completed(const CieLab& own, const CieLab& first) const;
  void keepRows(const Image& picture, Image& out, int begin, int end) const;

  std::size_t count_ = 0;
  std::vector<std::int32_t> nearest_;  // of each cell of CIELAB: the cell of the ink nearest to its middle
};

}  // namespace jugendstil
