// SPDX-License-Identifier: Apache-2.0
// Everything that can be set of a grade, with one table that names, explains, checks and prints each setting.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "grade/look.h"
#include "grade/match.h"
#include "image/blend.h"
#include "image/stored_picture.h"
#include "recipe/setting_values.h"

namespace jugendstil {

struct GradeSettings {
  MatchSettings match;
  LookAmounts amounts;
  bool together = false;  // one look for all photos, instead of one for each
  double opacity = 1;     // how much of the result lies over the photo
  BlendMode blend = BlendMode::normal;
  ProfileChoice profile = ProfileChoice::keep;
  Encoding encoding;
  int threads = 0;  // 0: all processors
};

// In the order in which they are shown.
const std::vector<SettingInfo>& gradeSettingTable();

// Sets one setting from text. Throws UsageError that names the setting, what was given and what is right.
void setGradeSetting(GradeSettings& settings, std::string_view name, std::string_view text);

// The text that setGradeSetting would take for the present value.
std::string gradeSettingText(const GradeSettings& settings, std::string_view name);

// --- Values that the settings of other commands have, too.

// Which stages are matched: "tone,colour,detail" or some of them.
void setStages(MatchSettings& match, std::string_view name, std::string_view text);
std::string stagesText(const MatchSettings& match);

extern const Choices<GradeMethod> kGradeMethods;

// "80" for all stages, or like "tone=50,colour=100"; 0 to 200, stages not named at 100.
LookAmounts amountsSetting(std::string_view name, std::string_view text);
std::string amountsText(const LookAmounts& amounts);

// Of a picture's file: "auto" or 8, 16, float; "auto" or 0 to 100.
std::optional<Depth> depthSetting(std::string_view name, std::string_view text);
std::string depthText(const std::optional<Depth>& depth);
std::optional<int> qualitySetting(std::string_view name, std::string_view text);
std::string qualityText(const std::optional<int>& quality);

}  // namespace jugendstil
