// SPDX-License-Identifier: Apache-2.0
// One picture over another.
#pragma once

#include <optional>
#include <vector>

#include "image/blend.h"
#include "image/image.h"

namespace jugendstil {

struct LayerSettings {
  double opacity = 1;
  BlendMode blend = BlendMode::normal;
  // Where the layer shows: first channel, any size, stretched over the picture.
  std::optional<Image> mask;
};

// Blend mode first, then opacity and mask. Normal blending mixes in linear light, the other modes in display
// values as their specification has it. Works on strips of rows, so that pictures need not be held whole.
class Layer {
 public:
  // For a picture of this size. Throws Error for an empty mask picture.
  Layer(LayerSettings settings, int width, int height);

  // Whether what is above simply replaces what is below.
  bool plain() const;
  // Lays `above` over `below`: both RGB or RGBA, display-encoded, of one size, rows from `begin` on of the
  // picture; `above` is changed in place, its alpha is left alone.
  void combine(const Image& below, Image& above, int begin = 0) const;

 private:
  std::vector<float> partsOf(const Image& above, int y) const;

  LayerSettings settings_;
  int height_;
};

}  // namespace jugendstil
