// SPDX-License-Identifier: Apache-2.0
// How one picture lies over another: the blend modes of the W3C's "Compositing and Blending Level 1". Our
// own, in float: libraries blend in 8 bits.
#pragma once

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace jugendstil {

enum class BlendMode {
  normal,
  multiply,
  screen,
  overlay,
  darken,
  lighten,
  colourDodge,
  colourBurn,
  hardLight,
  softLight,
  difference,
  exclusion,
  hue,
  saturation,
  colour,
  luminosity
};

// Their names as the specification spells them ("color-dodge"), in its order.
const std::vector<std::string>& blendModeNames();
std::string blendModeName(BlendMode mode);

// Throws UsageError that lists the modes.
BlendMode blendModeOf(std::string_view name);

// B(below, above) of the specification on display-encoded RGB in [0, 1]; values outside are clamped first,
// except for normal, which gives `above` as it is.
std::array<float, 3> blended(BlendMode mode, const std::array<float, 3>& below,
                             const std::array<float, 3>& above);

}  // namespace jugendstil
