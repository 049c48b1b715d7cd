// SPDX-License-Identifier: Apache-2.0
// Everything that can be set of amplifying, with one table that names, explains, checks and prints each
// setting.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "amplify/drive.h"
#include "paint/settings.h"

namespace jugendstil {

// How large the largest patterns are, in pixels of the result or as a part of its longer side.
struct PatternSize {
  double value = 0;  // 0: chosen by band
  bool part = false;
};

using BandWeights = std::vector<std::pair<std::string, double>>;

struct AmplifySettings {
  BandWeights bands{{"broad", 1}};
  PatternSize pattern;
  double strength = 50;  // 0 to 100: how far the result goes from the photo
  ChannelChoice channels;
  // likeness, stroke, trim, palette, opacity, blend, longEdge, finish, memory, proof, encoding, snapshots,
  // threads, precision. Its palette is reference (colours are free) or photoChroma.
  PaintSettings painting;
};

// As paintSettingTable() and its companions.
const std::vector<SettingInfo>& amplifySettingTable();
void setAmplifySetting(AmplifySettings& settings, std::string_view name, std::string_view text);
std::string amplifySettingText(const AmplifySettings& settings, std::string_view name);

// "medium", "small=1,broad=2". Throws UsageError.
BandWeights bandsSetting(std::string_view text);
std::string bandsText(const BandWeights& bands);

}  // namespace jugendstil
