// SPDX-License-Identifier: Apache-2.0
// Everything that can be set of a film beside the painting's own settings.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "clip/clip_writer.h"
#include "grade/match.h"
#include "paint/settings.h"

namespace jugendstil {

enum class Gaps { drop, hold };

struct FilmSettings {
  std::string from;  // a frame number or a time; empty: the beginning
  std::string to;    // the last frame, or the time at which to stop; empty: the end
  int every = 1;
  Gaps gaps = Gaps::drop;  // frames between: dropped (the rate is adjusted), or each painted one shown longer
  int frames = 0;          // no more than these; 0: all
  double steady = 50;      // 0 to 100: how strongly a frame is held to the ones before
  int frameSteps = 0;      // of each frame after a shot's first, at most; 0: chosen
  int passes = 1;          // 2: once more backwards
  std::string codec = "auto";
  int quality = 85;
  bool sound = true;
  // Of grading instead of painting.
  MatchSettings match;
  LookAmounts amounts;
};

// Steps of a frame that is led by the ones before, at most, where none are set. Brush-work that is laid in
// replaces what the later ones are for.
inline constexpr int kLedSteps = 30;
inline constexpr int kLedStepsBelowBrushwork = 14;
int ledSteps(const FilmSettings& settings, bool brushwork);

// As paintSettingTable() and its companions.
const std::vector<SettingInfo>& filmSettingTable();
void setFilmSetting(FilmSettings& settings, std::string_view name, std::string_view text);
std::string filmSettingText(const FilmSettings& settings, std::string_view name);

}  // namespace jugendstil
