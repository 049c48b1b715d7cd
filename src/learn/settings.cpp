// SPDX-License-Identifier: Apache-2.0
#include "learn/settings.h"

#include <algorithm>

#include "base/error.h"
#include "recipe/setting_values.h"

namespace jugendstil {
namespace {

using S = LearnSettings;
using T = std::string_view;

constexpr T kLearned[] = {"likeness", "stroke", "palette", "measure", "emphasis", "content", "trim"};
constexpr T kOfLearning[] = {"seed", "threads", "precision"};

bool isPaintings(T name) {
  return isLearned(name) ||
         std::find(std::begin(kOfLearning), std::end(kOfLearning), name) != std::end(kOfLearning);
}

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"long-edge", "PX",
        "longer side of what it will paint: strokes are learned in their size for it, and with brush-work "
        "larger paintings go on from there (384)",
        true},
       [](S& s, T t) { s.longEdge = wholeSetting("long-edge", t, 128, 4096); },
       [](const S& s) { return std::to_string(s.longEdge); }},
      {{"steps", "N", "how long it learns; a step looks at a piece of one photo (1800)", true},
       [](S& s, T t) { s.steps = wholeSetting("steps", t, 1, 1000000); },
       [](const S& s) { return std::to_string(s.steps); }},
  };
  return table;
}

void requireLearnable(const PaintSettings& s) {
  if (s.palette == Palette::reference || s.palette == Palette::photo) return;
  throw UsageError(
      "palette is reference or photo for a painter that learns; the others are laid on afterwards: give them "
      "to paint --with");
}

}  // namespace

const std::vector<SettingInfo>& learnSettingTable() {
  static const std::vector<SettingInfo> table = [] {
    std::vector<SettingInfo> infos;
    for (const SettingInfo& info : paintSettingTable()) {
      if (isLearned(info.name)) infos.push_back(info);
    }
    for (SettingInfo& info : infos) {
      if (info.name == "palette") {
        info.value = "reference|photo";
        info.help = "whose colours its paintings have: the references', or the photo's (reference)";
      }
    }
    for (const SettingInfo& info : settingInfos(entries())) infos.push_back(info);
    for (const SettingInfo& info : paintSettingTable()) {
      if (isPaintings(info.name) && !isLearned(info.name)) infos.push_back(info);
    }
    return infos;
  }();
  return table;
}

void setLearnSetting(LearnSettings& settings, std::string_view name, std::string_view text) {
  if (!isPaintings(name)) {
    std::vector<std::string> known;
    for (const SettingInfo& info : learnSettingTable()) known.push_back(info.name);
    if (std::find(known.begin(), known.end(), name) == known.end()) refuseName(name, known);
    settingNamed(entries(), name).set(settings, text);
    return;
  }
  setPaintSetting(settings.painting, name, text);
  requireLearnable(settings.painting);
}

std::string learnSettingText(const LearnSettings& settings, std::string_view name) {
  return isPaintings(name) ? paintSettingText(settings.painting, name)
                           : settingNamed(entries(), name).text(settings);
}

bool isLearned(std::string_view paintSetting) {
  return std::find(std::begin(kLearned), std::end(kLearned), paintSetting) != std::end(kLearned);
}

}  // namespace jugendstil
