// SPDX-License-Identifier: Apache-2.0
#include "grade/settings.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "base/error.h"
#include "base/words.h"

namespace jugendstil {

const Choices<GradeMethod> kGradeMethods{{"mean-std", GradeMethod::meanStd},
                                         {"covariance", GradeMethod::covariance},
                                         {"distribution", GradeMethod::distribution}};

namespace {

using S = GradeSettings;
using T = std::string_view;

const Choices<std::optional<Depth>> kDepths{
    {"auto", std::nullopt}, {"8", Depth::eight}, {"16", Depth::sixteen}, {"float", Depth::floating}};
const Choices<ProfileChoice> kProfiles{{"keep", ProfileChoice::keep}, {"srgb", ProfileChoice::srgb}};

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"match", "tone,colour,detail", "what is matched (all three)", false},
       [](S& s, T t) { setStages(s.match, "match", t); },
       [](const S& s) { return stagesText(s.match); }},
      {{"method", "mean-std|covariance|distribution",
        "how colour is matched: gently, well (the default), or to the last cast", false},
       [](S& s, T t) { s.match.method = choiceSetting("method", t, kGradeMethods); },
       [](const S& s) { return wordOf(s.match.method, kGradeMethods); }},
      {{"amount", "N | tone=N,colour=N,detail=N",
        "how much of it, 0 to 100, up to 200 for more than the reference (100)", false},
       [](S& s, T t) { s.amounts = amountsSetting("amount", t); },
       [](const S& s) { return amountsText(s.amounts); }},
      {{"together", "yes|no", "one look for all photos, so that a series stays even (no)", false},
       [](S& s, T t) { s.together = yesNoSetting("together", t); },
       [](const S& s) { return yesNo(s.together); }},
      {{"opacity", "SHARE", "how much of the result lies over the photo: 0.7 or 70% (1)", true},
       [](S& s, T t) { s.opacity = shareSetting("opacity", t); },
       [](const S& s) { return fmt::format("{}", s.opacity); }},
      {{"blend", "MODE",
        "how it lies over the photo: normal, multiply, screen, overlay, soft-light, luminosity, color ... "
        "(normal)",
        false},
       [](S& s, T t) { s.blend = blendModeOf(t); },
       [](const S& s) { return blendModeName(s.blend); }},
      {{"profile", "keep|srgb", "the colour profile of the result: the photo's own (keep), or sRGB", false},
       [](S& s, T t) { s.profile = choiceSetting("profile", t, kProfiles); },
       [](const S& s) { return wordOf(s.profile, kProfiles); }},
      {{"depth", "auto|8|16|float",
        "bits of the result; float for .tif and .exr (auto: the photo's own, as far as the format goes)",
        false},
       [](S& s, T t) { s.encoding.depth = depthSetting("depth", t); },
       [](const S& s) { return depthText(s.encoding.depth); }},
      {{"quality", "0..100", "of a JPEG (auto: 95) or WebP (auto: 92)", false},
       [](S& s, T t) { s.encoding.quality = qualitySetting("quality", t); },
       [](const S& s) { return qualityText(s.encoding.quality); }},
      {{"threads", "N", "processors used (auto: all)", false},
       [](S& s, T t) { s.threads = wholeOrAutoSetting("threads", t, 1, 1024); },
       [](const S& s) { return autoOr(s.threads); }},
  };
  return table;
}

// A stage of the grade by its name, which may be spelled in American; none where it is no stage.
enum class Stage { tone, colour, detail };
std::optional<Stage> stageOf(T word) {
  if (word == "tone") return Stage::tone;
  if (word == "colour" || word == "color") return Stage::colour;
  if (word == "detail") return Stage::detail;
  return std::nullopt;
}

}  // namespace

const std::vector<SettingInfo>& gradeSettingTable() {
  static const std::vector<SettingInfo> table = settingInfos(entries());
  return table;
}

void setGradeSetting(GradeSettings& settings, std::string_view name, std::string_view text) {
  settingNamed(entries(), name).set(settings, text);
}

std::string gradeSettingText(const GradeSettings& settings, std::string_view name) {
  return settingNamed(entries(), name).text(settings);
}

void setStages(MatchSettings& match, std::string_view name, std::string_view text) {
  match.tone = match.colour = match.detail = false;
  for (const std::string& part : splitAt(text, ',')) {
    const auto stage = stageOf(part);
    if (!stage)
      throw UsageError(
          fmt::format("{} is tone, colour, detail or several with commas, not \"{}\"", name, part));
    (*stage == Stage::tone ? match.tone : *stage == Stage::colour ? match.colour : match.detail) = true;
  }
}

std::string stagesText(const MatchSettings& match) {
  std::vector<std::string> words;
  if (match.tone) words.emplace_back("tone");
  if (match.colour) words.emplace_back("colour");
  if (match.detail) words.emplace_back("detail");
  return fmt::format("{}", fmt::join(words, ","));
}

LookAmounts amountsSetting(std::string_view name, std::string_view text) {
  LookAmounts amounts;
  if (text.find('=') == T::npos) {
    const double all = numberSetting(name, text, 0, 200) / 100;
    return {all, all, all};
  }
  for (const std::string& part : splitAt(text, ',')) {
    const auto equals = part.find('=');
    const auto stage = stageOf(part.substr(0, equals));
    if (equals == std::string::npos || !stage)
      throw UsageError(
          fmt::format("{} is a number, or like tone=50,colour=100,detail=0, not \"{}\"", name, part));
    const double value =
        numberSetting(fmt::format("{} of {}", name, part.substr(0, equals)), part.substr(equals + 1), 0, 200);
    (*stage == Stage::tone     ? amounts.tone
     : *stage == Stage::colour ? amounts.colour
                               : amounts.detail) = value / 100;
  }
  return amounts;
}

std::string amountsText(const LookAmounts& amounts) {
  const auto percent = [](double share) { return fmt::format("{:.10g}", share * 100); };
  if (amounts.tone == amounts.colour && amounts.tone == amounts.detail) return percent(amounts.tone);
  return fmt::format("tone={},colour={},detail={}", percent(amounts.tone), percent(amounts.colour),
                     percent(amounts.detail));
}

std::optional<Depth> depthSetting(std::string_view name, std::string_view text) {
  return choiceSetting(name, text, kDepths);
}

std::string depthText(const std::optional<Depth>& depth) { return wordOf(depth, kDepths); }

std::optional<int> qualitySetting(std::string_view name, std::string_view text) {
  if (text == "auto") return std::nullopt;
  return wholeSetting(name, text, 0, 100);
}

std::string qualityText(const std::optional<int>& quality) {
  return quality ? std::to_string(*quality) : std::string("auto");
}

}  // namespace jugendstil
