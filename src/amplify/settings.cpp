// SPDX-License-Identifier: Apache-2.0
#include "amplify/settings.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>

#include "base/error.h"
#include "base/words.h"

namespace jugendstil {
namespace {

using S = AmplifySettings;
using T = std::string_view;

// Painting's own, in their order; all mean here what they mean there.
constexpr T kPaintings[] = {"likeness", "stroke", "trim",  "opacity", "blend",     "long-edge", "finish",
                            "memory",   "proof",  "depth", "quality", "snapshots", "threads",   "precision"};
constexpr int kMostChannels = 100000;

bool isPaintings(T name) {
  return std::find(std::begin(kPaintings), std::end(kPaintings), name) != std::end(kPaintings);
}

PatternSize patternIn(T text) {
  if (text == "auto") return {};
  if (text.ends_with('%')) return {numberSetting("pattern", text.substr(0, text.size() - 1), 0.1, 100), true};
  return {numberSetting("pattern", text, 1, 16384), false};
}

std::string patternText(const S& s) {
  if (s.pattern.value == 0) return "auto";
  return fmt::format("{}{}", s.pattern.value, s.pattern.part ? "%" : "");
}

ChannelChoice channelsIn(T text) {
  if (text == "all") return {};
  constexpr T kWoken = "woken=";
  if (text.starts_with(kWoken))
    return {{}, wholeSetting("channels woken", text.substr(kWoken.size()), 1, kMostChannels)};
  ChannelChoice choice;
  for (const std::string& part : splitAt(text, ','))
    choice.numbers.push_back(wholeSetting("channels", part, 0, kMostChannels));
  return choice;
}

std::string channelsText(const S& s) {
  if (s.channels.woken > 0) return fmt::format("woken={}", s.channels.woken);
  return s.channels.numbers.empty() ? "all" : fmt::format("{}", fmt::join(s.channels.numbers, ","));
}

const Choices<Palette> kOwnPalettes{{"free", Palette::reference}, {"photo", Palette::photoChroma}};

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"band", "BAND[=X],...",
        "whose patterns are strengthened: fine and small are waves and grain, medium curls and scales, broad "
        "and large whole forms; several with weights (broad)",
        false},
       [](S& s, T t) { s.bands = bandsSetting(t); },
       [](const S& s) { return bandsText(s.bands); }},
      {{"pattern", "SIZE|auto",
        "how large the largest patterns are, in pixels of the result or like 10% of its longer side; the "
        "larger, the more sizes of them (auto: by the band)",
        false},
       [](S& s, T t) { s.pattern = patternIn(t); },
       patternText},
      {{"strength", "0..100", "how far the result goes from the photo, the same in all bands (50)", true},
       [](S& s, T t) { s.strength = numberSetting("strength", t, 0, 100); },
       [](const S& s) { return fmt::format("{}", s.strength); }},
      {{"channels", "all|N,...|woken=N",
        "only these channels of each band, by number from 0, or the N that this photo wakes most (all)",
        false},
       [](S& s, T t) { s.channels = channelsIn(t); },
       channelsText},
      {{"palette", "free|photo", "whether colours change too, or only lightness (free)", false},
       [](S& s, T t) { s.painting.palette = choiceSetting("palette", t, kOwnPalettes); },
       [](const S& s) { return wordOf(s.painting.palette, kOwnPalettes); }},
  };
  return table;
}

}  // namespace

BandWeights bandsSetting(std::string_view text) {
  BandWeights bands;
  for (const std::string& part : splitAt(text, ',')) {
    const auto equals = part.find('=');
    const std::string name = part.substr(0, equals);
    if (name.empty())
      throw UsageError(
          fmt::format("band is a name or several with weights, like medium or "
                      "small=1,broad=2, not \"{}\"",
                      text));
    if (std::any_of(bands.begin(), bands.end(), [&](const auto& b) { return b.first == name; }))
      throw UsageError(fmt::format("band names {} twice", name));
    bands.emplace_back(name, equals == std::string::npos
                                 ? 1
                                 : numberSetting("weight of band " + name,
                                                 std::string_view(part).substr(equals + 1), 0.001, 1000));
  }
  return bands;
}

std::string bandsText(const BandWeights& bands) {
  std::vector<std::string> parts;
  for (const auto& [name, weight] : bands)
    parts.push_back(weight == 1 ? name : fmt::format("{}={}", name, weight));
  return fmt::format("{}", fmt::join(parts, ","));
}

const std::vector<SettingInfo>& amplifySettingTable() {
  static const std::vector<SettingInfo> table = [] {
    std::vector<SettingInfo> infos = settingInfos(entries());
    for (const SettingInfo& info : paintSettingTable()) {
      if (isPaintings(info.name)) infos.push_back(info);
    }
    // Where painting's own words would be of a painting.
    const std::map<std::string, const char*> words{
        {"likeness",
         "how strongly the photo's own drawing is held: at 0 patterns go through everything (50)"},
        {"stroke", "size of the patterns of references: 2 is twice as large (1)"},
        {"opacity", "how much of the result lies over the photo: 0.7 or 70% (1)"},
        {"blend",
         "how the result is laid over the photo: normal, multiply, screen, overlay, soft-light, luminosity "
         "and "
         "the other modes of W3C compositing (normal)"},
        {"long-edge", "longer side of the result (auto: the photo's own, up to 1024)"},
        {"finish", "take the result to the photo's own size (no)"},
        {"memory",
         "what may be held at once, like 2G or 900M; what needs more is worked on in tiles, to the same "
         "result "
         "(auto: three quarters of the machine's)"},
        {"proof", "leave the last and largest size out: small, in a third to half of the time (no)"}};
    for (SettingInfo& info : infos) {
      if (const auto own = words.find(info.name); own != words.end()) info.help = own->second;
    }
    return infos;
  }();
  return table;
}

void setAmplifySetting(AmplifySettings& settings, std::string_view name, std::string_view text) {
  if (isPaintings(name)) return setPaintSetting(settings.painting, name, text);
  std::vector<std::string> known;
  for (const SettingInfo& info : amplifySettingTable()) known.push_back(info.name);
  if (std::find(known.begin(), known.end(), name) == known.end()) refuseName(name, known);
  settingNamed(entries(), name).set(settings, text);
}

std::string amplifySettingText(const AmplifySettings& settings, std::string_view name) {
  return isPaintings(name) ? paintSettingText(settings.painting, name)
                           : settingNamed(entries(), name).text(settings);
}

}  // namespace jugendstil
