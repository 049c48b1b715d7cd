// SPDX-License-Identifier: Apache-2.0
// Everything that can be set of what a quick painter learns.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "paint/settings.h"

namespace jugendstil {

struct LearnSettings {
  PaintSettings painting;  // likeness, stroke, palette, emphasis, measure, content, trim, seed
  int longEdge = 384;      // of the pictures that it will paint: strokes have their size for it
  int side = 240;          // of the square pieces of photos that it learns on; not set by hand
  int steps = 1800;
};

// As paintSettingTable() and its companions: what is learned, and how long.
const std::vector<SettingInfo>& learnSettingTable();
void setLearnSetting(LearnSettings& settings, std::string_view name, std::string_view text);
std::string learnSettingText(const LearnSettings& settings, std::string_view name);

// Those that are a painting's own and that a painter has learned once and for all.
bool isLearned(std::string_view paintSetting);

}  // namespace jugendstil
