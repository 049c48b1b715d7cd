// SPDX-License-Identifier: Apache-2.0
// Everything that can be set of a dive, with one table that names, explains, checks and prints each setting.
// Those that change over time are Keys.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "amplify/settings.h"
#include "clip/sound.h"
#include "dive/keys.h"

namespace jugendstil {

enum class DiveBy { amplify, paint, quick };

// For each frame, or for each second: then as many frames as these have share in it.
struct Tempo {
  double value = 0;
  bool aSecond = false;
};

// In pixels of the frame, or as a part of its side.
struct Extent {
  double value = 0;
  bool part = false;
};

struct PicturePlace {
  Extent x;
  Extent y;
};

struct Drift {
  PicturePlace by;
  bool aSecond = false;
};

// Settings that a sound can lead.
enum class FollowingSetting { strength, zoom, turn, shift, source };

struct DiveSettings {
  DiveBy by = DiveBy::amplify;
  std::string length = "auto";  // a moment: so many frames, or a time; auto: the clip's, the sound's, or 4 s
  double rate = 0;              // frames a second; 0: the clip's, or 24
  Keys<Tempo> zoom{{"", {1.02, false}}};
  Keys<Tempo> turn{{"", {}}};
  Keys<Drift> shift{{"", {}}};
  Keys<PicturePlace> centre{{"", {{0.5, true}, {0.5, true}}}};
  Ease ease = Ease::smooth;
  Keys<double> strength;  // 0 to 100; none: chosen by what is done
  Keys<double> source{{"", 0}};
  Keys<BandWeights> bands{{"", {{"medium", 1}, {"broad", 1}}}};
  std::vector<std::pair<FollowingSetting, SoundBand>> follow;
  bool loop = false;
  std::string codec = "auto";
  int quality = 85;
  int frameSteps = 0;  // of painting: each frame after the first; 0: chosen
  // Pattern and channels of amplifying, and all of painting that a film has. Its bands are not looked at.
  AmplifySettings made;

  PaintSettings& painting() { return made.painting; }
  const PaintSettings& painting() const { return made.painting; }
};

// As paintSettingTable() and its companions.
const std::vector<SettingInfo>& diveSettingTable();
void setDiveSetting(DiveSettings& settings, std::string_view name, std::string_view text);
std::string diveSettingText(const DiveSettings& settings, std::string_view name);

// Whether a setting can change over time.
bool changesOverTime(std::string_view name);

}  // namespace jugendstil
