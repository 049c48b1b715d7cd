// SPDX-License-Identifier: Apache-2.0
// The colours that pictures are made of, and pictures kept to them: a print in few inks stays one.
#pragma once

#include <vector>

#include "image/cielab.h"
#include "image/image.h"

namespace jugendstil {

class Inks {
 public:
  // Colours further than this (CIELAB) from every ink are none of the pictures'.
  static constexpr float kFarthest = 6;

  // What at least one in some thousand pixels of a picture (RGB, display-encoded) has, to about 3 in CIELAB.
  explicit Inks(const std::vector<const Image*>& pictures);

  // The picture (RGB, display-encoded) with colours that are none of the inks' moved to that distance from
  // the nearest; neighbours move alike, so that no pixels jump out where two inks are as near. Not of films:
  // what goes to one ink now may go to another in the next frame.
  Image keptTo(const Image& picture) const;

  std::size_t count() const { return lightness_.size(); }

 private:
  struct Found {
    std::size_t ink;
    float squared;  // distance
  };
  // The nearest ink, or `guess` where that is near enough.
  Found nearest(const CieLab& colour, std::size_t guess) const;
  CieLab ink(std::size_t i) const { return {lightness_[i], a_[i], b_[i]}; }
  // Completes each colour's move, where it is none of the inks' yet.
  void settle(const std::vector<CieLab>& own, std::vector<CieLab>& move, int width) const;
  void keepRows(const Image& picture, Image& out, int begin, int end) const;

  // Of each ink; apart, for loops over all of them.
  std::vector<float> lightness_;
  std::vector<float> a_;
  std::vector<float> b_;
};

}  // namespace jugendstil
