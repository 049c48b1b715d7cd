// SPDX-License-Identifier: Apache-2.0
// Everything that can be set of a weave, with one table that names, explains, checks and prints each setting.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "image/blend.h"
#include "image/depth.h"
#include "recipe/palette.h"
#include "recipe/setting_values.h"
#include "weave/mix.h"
#include "weave/woven.h"

namespace jugendstil {

struct WeaveSettings {
  int width = 0;  // 0: that of the layout or map, or kUsualPiece
  int height = 0;
  Repeats repeats;
  Mix mix = Mix::apart;
  std::uint64_t seed = 1;
  // Along a photo, as in PaintSettings.
  double likeness = 50;
  double stroke = 1;
  Palette palette = Palette::reference;
  double trim = -1;
  int longEdge = 0;
  double opacity = 1;
  BlendMode blend = BlendMode::normal;
  Encoding encoding;
  int threads = 0;  // 0: all processors
};

inline constexpr int kUsualPiece = 1024;

// In the order in which they are shown.
const std::vector<SettingInfo>& weaveSettingTable();

// Sets one setting from text. Throws UsageError that names the setting, what was given and what is right.
void setWeaveSetting(WeaveSettings& settings, std::string_view name, std::string_view text);

// Whether a setting only says something along a photo, or only without one.
bool isOfAlong(std::string_view name);
bool isOfGrowing(std::string_view name);

// The text that setWeaveSetting would take for the present value.
std::string weaveSettingText(const WeaveSettings& settings, std::string_view name);

}  // namespace jugendstil
