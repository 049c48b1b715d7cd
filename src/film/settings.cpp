// SPDX-License-Identifier: Apache-2.0
#include "film/settings.h"

#include <fmt/format.h>

#include "base/error.h"
#include "clip/moment.h"
#include "grade/settings.h"
#include "recipe/setting_values.h"

namespace jugendstil {
namespace {

using S = FilmSettings;
using T = std::string_view;

const Choices<Gaps> kGaps{{"drop", Gaps::drop}, {"hold", Gaps::hold}};
const Choices<bool> kSound{{"keep", true}, {"none", false}};
std::string momentText(const std::string& moment) { return moment.empty() ? "auto" : moment; }
std::string checkedMoment(T name, T text) {
  if (text == "auto") return {};
  momentOf(name, text);
  return std::string(text);
}

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"from", "FRAME|TIME",
        "where to begin: a frame number from 0, or a time like 2.5s or 1:04.2 (the beginning)", false},
       [](S& s, T t) { s.from = checkedMoment("from", t); },
       [](const S& s) { return momentText(s.from); }},
      {{"to", "FRAME|TIME", "the last frame, or the time at which to stop (the end)", false},
       [](S& s, T t) { s.to = checkedMoment("to", t); },
       [](const S& s) { return momentText(s.to); }},
      {{"every", "N", "every Nth frame only (1)", true},
       [](S& s, T t) { s.every = wholeSetting("every", t, 1, 10000); },
       [](const S& s) { return std::to_string(s.every); }},
      {{"gaps", "drop|hold",
        "what becomes of the frames between: dropped, so that the rate falls, or each one shown longer at "
        "the "
        "clip's own rate (drop)",
        false},
       [](S& s, T t) { s.gaps = choiceSetting("gaps", t, kGaps); },
       [](const S& s) { return wordOf(s.gaps, kGaps); }},
      {{"frames", "N", "no more than N frames, for a draft (0: all)", true},
       [](S& s, T t) { s.frames = wholeSetting("frames", t, 0, 100000000); },
       [](const S& s) { return std::to_string(s.frames); }},
      {{"steady", "0..100",
        "how strongly a frame is held to the ones before: 0 lets strokes live, 100 paints them onto things "
        "(50)",
        true},
       [](S& s, T t) { s.steady = numberSetting("steady", t, 0, 100); },
       [](const S& s) { return fmt::format("{}", s.steady); }},
      {{"frame-steps", "N", "steps of each frame after the first of a shot, at most (auto)", false},
       [](S& s, T t) { s.frameSteps = wholeOrAutoSetting("frame-steps", t, 1, 100000); },
       [](const S& s) { return autoOr(s.frameSteps); }},
      {{"passes", "1|2",
        "2 goes through once more from the end, so that what appears late is led as well (1)", true},
       [](S& s, T t) { s.passes = wholeSetting("passes", t, 1, 2); },
       [](const S& s) { return std::to_string(s.passes); }},
      {{"codec", "auto|ffv1|vp9|av1|h264", "how the clip is encoded (auto: by the name of the result)",
        false},
       [](S& s, T t) {
         if (t != "auto") codecFromWord(std::string(t));
         s.codec = std::string(t);
       },
       [](const S& s) { return s.codec; }},
      {{"quality", "0..100",
        "of codecs that lose something: 70 is small, 95 hardly to be told from the frames (85)", true},
       [](S& s, T t) { s.quality = wholeSetting("quality", t, 0, 100); },
       [](const S& s) { return std::to_string(s.quality); }},
      {{"sound", "keep|none", "whether the clip's sound is copied (keep)", false},
       [](S& s, T t) { s.sound = choiceSetting("sound", t, kSound); },
       [](const S& s) { return wordOf(s.sound, kSound); }},
      {{"match", "tone,colour,detail", "of grading: what is matched (all three)", false},
       [](S& s, T t) { setStages(s.match, "match", t); },
       [](const S& s) { return stagesText(s.match); }},
      {{"method", "mean-std|covariance|distribution", "of grading: how colour is matched (covariance)",
        false},
       [](S& s, T t) { s.match.method = choiceSetting("method", t, kGradeMethods); },
       [](const S& s) { return wordOf(s.match.method, kGradeMethods); }},
      {{"amount", "N | tone=N,colour=N,detail=N", "of grading: how much of it, 0 to 200 (100)", false},
       [](S& s, T t) { s.amounts = amountsSetting("amount", t); },
       [](const S& s) { return amountsText(s.amounts); }},
  };
  return table;
}

}  // namespace

int ledSteps(const FilmSettings& settings, bool brushwork) {
  if (settings.frameSteps > 0) return settings.frameSteps;
  return brushwork ? kLedStepsBelowBrushwork : kLedSteps;
}

const std::vector<SettingInfo>& filmSettingTable() {
  static const std::vector<SettingInfo> table = settingInfos(entries());
  return table;
}

void setFilmSetting(FilmSettings& settings, std::string_view name, std::string_view text) {
  settingNamed(entries(), name).set(settings, text);
}

std::string filmSettingText(const FilmSettings& settings, std::string_view name) {
  return settingNamed(entries(), name).text(settings);
}

}  // namespace jugendstil
