// SPDX-License-Identifier: Apache-2.0
#include "dive/settings.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>
#include <set>

#include "base/error.h"
#include "base/words.h"
#include "clip/clip_writer.h"
#include "recipe/setting_values.h"

namespace jugendstil {
namespace {

using S = DiveSettings;
using T = std::string_view;

constexpr double kMostZoom = 4;
constexpr T kASecond = "/s";

const Choices<DiveBy> kWays{{"amplify", DiveBy::amplify}, {"paint", DiveBy::paint}, {"quick", DiveBy::quick}};
const Choices<Ease> kEases{{"smooth", Ease::smooth}, {"linear", Ease::linear}, {"hold", Ease::hold}};
const Choices<FollowingSetting> kFollowing{{"strength", FollowingSetting::strength},
                                           {"zoom", FollowingSetting::zoom},
                                           {"turn", FollowingSetting::turn},
                                           {"shift", FollowingSetting::shift},
                                           {"source", FollowingSetting::source}};
const Choices<SoundBand> kSounds{{"bass", SoundBand::bass},
                                 {"middle", SoundBand::middle},
                                 {"treble", SoundBand::treble},
                                 {"all", SoundBand::all}};

bool takeASecond(T& text) {
  if (!text.ends_with(kASecond)) return false;
  text.remove_suffix(kASecond.size());
  return true;
}

Tempo tempoIn(const char* name, T text, double least, double most) {
  Tempo tempo;
  tempo.aSecond = takeASecond(text);
  tempo.value = numberSetting(name, text, least, most);
  return tempo;
}

std::string tempoText(const Tempo& tempo) {
  return fmt::format("{}{}", tempo.value, tempo.aSecond ? kASecond : "");
}

// A second's zoom may be anything that a frame's can come to in it.
Tempo zoomIn(T text) {
  const Tempo tempo = tempoIn("zoom", text, -1e9, 1e9);
  if (!(tempo.value > 0 && (tempo.aSecond || tempo.value <= kMostZoom)))
    throw UsageError(
        fmt::format("zoom is above 0 and at most {} a frame, like 1.02, or a second, like 2/s; {} is not",
                    kMostZoom, text));
  return tempo;
}

Extent extentIn(const char* name, T text) {
  if (text.ends_with('%'))
    return {numberSetting(name, text.substr(0, text.size() - 1), -1000, 1000) / 100, true};
  return {numberSetting(name, text, -100000, 100000), false};
}

std::string extentText(const Extent& extent) {
  return extent.part ? fmt::format("{}%", extent.value * 100) : fmt::format("{}", extent.value);
}

PicturePlace placeIn(const char* name, T text) {
  const std::vector<std::string> parts = splitAt(text, ',');
  if (parts.size() != 2)
    throw UsageError(
        fmt::format("{} is written X,Y in pixels or per cent, like 4,0 or 50%,40%, not \"{}\"", name, text));
  return {extentIn(name, parts[0]), extentIn(name, parts[1])};
}

std::string placeText(const PicturePlace& place) { return extentText(place.x) + "," + extentText(place.y); }

PicturePlace centreIn(T text) {
  const PicturePlace place = placeIn("centre", text);
  for (const Extent& l : {place.x, place.y}) {
    if (l.value < 0 || (l.part && l.value > 1))
      throw UsageError(fmt::format("centre {} lies outside the picture; 50%,50% is its middle", text));
  }
  return place;
}

Drift driftIn(T text) {
  Drift drift;
  const T whole = text;
  drift.aSecond = takeASecond(text);
  drift.by = placeIn("shift", text);
  for (const Extent& l : {drift.by.x, drift.by.y}) {
    if (l.part && std::abs(l.value) > 0.5 && !drift.aSecond)
      throw UsageError(fmt::format("shift {} leaves the picture: at most half of it a frame", whole));
  }
  return drift;
}

template <typename V, typename In>
Keys<V> keyed(const char* name, T text, const In& in) {
  Keys<V> keys;
  for (const Key<std::string>& key : keysIn(name, text)) keys.push_back({key.at, in(key.value)});
  return keys;
}

template <typename V, typename Text>
std::string keysText(const Keys<V>& keys, const Text& textOf) {
  std::vector<std::string> parts;
  for (const Key<V>& key : keys)
    parts.push_back(key.at.empty() ? textOf(key.value) : key.at + "=" + textOf(key.value));
  return fmt::format("{}", fmt::join(parts, "; "));
}

std::string numberText(double value) { return fmt::format("{}", value); }

std::vector<std::pair<FollowingSetting, SoundBand>> followIn(T text) {
  if (text == "none") return {};
  std::vector<std::pair<FollowingSetting, SoundBand>> all;
  for (const std::string& part : splitAt(text, ',')) {
    const auto equals = part.find('=');
    if (equals == std::string::npos)
      throw UsageError(
          fmt::format("follow-sound is written SETTING=BAND, like strength=bass, not \"{}\"", part));
    const FollowingSetting led =
        choiceSetting("the setting that follows", part.substr(0, equals), kFollowing);
    if (std::any_of(all.begin(), all.end(), [&](const auto& one) { return one.first == led; }))
      throw UsageError(fmt::format("follow-sound names {} twice", part.substr(0, equals)));
    all.emplace_back(led, choiceSetting("the band of the sound", part.substr(equals + 1), kSounds));
  }
  return all;
}

std::string followText(const S& s) {
  std::vector<std::string> parts;
  for (const auto& [led, band] : s.follow)
    parts.push_back(wordOf(led, kFollowing) + "=" + wordOf(band, kSounds));
  return parts.empty() ? "none" : fmt::format("{}", fmt::join(parts, ","));
}

double percentIn(const char* name, T text) { return numberSetting(name, text, 0, 100); }

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"by", "amplify|paint|quick",
        "what is done to each frame: its patterns are amplified, it is painted after the references, or "
        "painted at once by a quick painter (by what is given; amplify)",
        false},
       [](S& s, T t) { s.by = choiceSetting("by", t, kWays); },
       [](const S& s) { return wordOf(s.by, kWays); }},
      {{"length", "TIME|FRAMES|auto",
        "how long the film is, like 8s or 200 (auto: the clip, the sound, or 4s)", false},
       [](S& s, T t) {
         if (t != "auto") momentOf("length", t);
         s.length = std::string(t);
       },
       [](const S& s) { return s.length; }},
      {{"rate", "FPS|auto", "frames a second (auto: the clip's, or 24)", false},
       [](S& s, T t) { s.rate = t == "auto" ? 0 : numberSetting("rate", t, 1, 240); },
       [](const S& s) { return s.rate == 0 ? "auto" : numberText(s.rate); }},
      {{"zoom", "X|X/s",
        "how much nearer each frame comes, or each second (2/s); below 1 it goes back (1.02)", false},
       [](S& s, T t) { s.zoom = keyed<Tempo>("zoom", t, zoomIn); },
       [](const S& s) { return keysText(s.zoom, tempoText); }},
      {{"turn", "DEG|DEG/s", "how far each frame turns, or each second; clockwise (0)", false},
       [](S& s, T t) {
         s.turn = keyed<Tempo>("turn", t, [](T one) { return tempoIn("turn", one, -3600, 3600); });
       },
       [](const S& s) { return keysText(s.turn, tempoText); }},
      {{"shift", "X,Y|X,Y/s", "how far each frame moves, or each second: pixels or like 1%,0 (0,0)", false},
       [](S& s, T t) { s.shift = keyed<Drift>("shift", t, driftIn); },
       [](const S& s) {
         return keysText(s.shift, [](const Drift& d) { return placeText(d.by) + (d.aSecond ? "/s" : ""); });
       }},
      {{"centre", "X,Y", "the point that zoom and turn leave where it is: pixels or per cent (50%,50%)",
        false},
       [](S& s, T t) { s.centre = keyed<PicturePlace>("centre", t, centreIn); },
       [](const S& s) { return keysText(s.centre, placeText); }},
      {{"ease", "smooth|linear|hold",
        "how what changes over time goes from one value to the next: hold jumps (smooth)", false},
       [](S& s, T t) { s.ease = choiceSetting("ease", t, kEases); },
       [](const S& s) { return wordOf(s.ease, kEases); }},
      {{"strength", "0..100|auto",
        "amplified: how far a frame goes from the start; painted: how much of each frame is painted anew; by "
        "a "
        "quick painter: how much of its painting the next frame comes out of (auto: 50 amplified, 100 "
        "painted, 60 by a quick painter)",
        false},
       [](S& s, T t) {
         s.strength.clear();
         if (t != "auto")
           s.strength = keyed<double>("strength", t, [](T one) { return percentIn("strength", one); });
       },
       [](const S& s) { return s.strength.empty() ? "auto" : keysText(s.strength, numberText); }},
      {{"source", "0..100", "of a clip: how much of its own frame is mixed into each (0)", false},
       [](S& s, T t) {
         s.source = keyed<double>("source", t, [](T one) { return percentIn("source", one); });
       },
       [](const S& s) { return keysText(s.source, numberText); }},
      {{"band", "BAND[=X],...", "amplified: whose patterns, as of amplify (medium,broad)", false},
       [](S& s, T t) { s.bands = keyed<BandWeights>("band", t, [](T one) { return bandsSetting(one); }); },
       [](const S& s) { return keysText(s.bands, bandsText); }},
      {{"pattern", "SIZE|auto", "amplified: how large the largest patterns are, as of amplify (auto)", false},
       [](S& s, T t) { setAmplifySetting(s.made, "pattern", t); },
       [](const S& s) { return amplifySettingText(s.made, "pattern"); }},
      {{"channels", "all|N,...|woken=N", "amplified: which channels, as of amplify (all)", false},
       [](S& s, T t) { setAmplifySetting(s.made, "channels", t); },
       [](const S& s) { return amplifySettingText(s.made, "channels"); }},
      {{"follow-sound", "X=BAND,...",
        "strength, zoom, turn, shift or source follow how loud the sound is in a band - bass, middle, treble "
        "or "
        "all: as set where it is loudest, at rest in silence (none)",
        false},
       [](S& s, T t) { s.follow = followIn(t); },
       followText},
      {{"loop", "yes|no", "the last frame meets the first, so that the film can run for ever (no)", false},
       [](S& s, T t) { s.loop = yesNoSetting("loop", t); },
       [](const S& s) { return yesNo(s.loop); }},
      {{"frame-steps", "N|auto", "painted: steps of each frame after the first (auto)", false},
       [](S& s, T t) { s.frameSteps = wholeOrAutoSetting("frame-steps", t, 1, 100000); },
       [](const S& s) { return autoOr(s.frameSteps); }},
      {{"codec", "auto|ffv1|vp9|av1|h264", "how the film is encoded (auto: by the name of the result)",
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
  };
  return table;
}

// Painting's own, all but what a dive decides by itself.
bool isPaintings(T name) {
  static const std::set<T> others{"start", "until",   "snapshots", "finish", "proof",
                                  "depth", "quality", "blend",     "quick",  "lines"};
  if (others.count(name) != 0) return false;
  const std::vector<SettingInfo>& table = paintSettingTable();
  return std::any_of(table.begin(), table.end(), [&](const SettingInfo& info) { return info.name == name; });
}

}  // namespace

const std::vector<SettingInfo>& diveSettingTable() {
  static const std::vector<SettingInfo> table = [] {
    std::vector<SettingInfo> infos = settingInfos(entries());
    for (const SettingInfo& info : paintSettingTable()) {
      if (isPaintings(info.name)) infos.push_back(info);
    }
    const std::map<std::string, const char*> words{
        {"long-edge", "longer side of the film (auto: the start's own, up to 640)"},
        {"palette", "whose colours the film has: the references', or the start's (reference)"}};
    for (SettingInfo& info : infos) {
      if (const auto own = words.find(info.name); own != words.end()) info.help = own->second;
    }
    return infos;
  }();
  return table;
}

void setDiveSetting(DiveSettings& settings, std::string_view name, std::string_view text) {
  if (isPaintings(name)) return setPaintSetting(settings.painting(), name, text);
  std::vector<std::string> known;
  for (const SettingInfo& info : diveSettingTable()) known.push_back(info.name);
  if (std::find(known.begin(), known.end(), name) == known.end()) refuseName(name, known);
  settingNamed(entries(), name).set(settings, text);
}

std::string diveSettingText(const DiveSettings& settings, std::string_view name) {
  return isPaintings(name) ? paintSettingText(settings.painting(), name)
                           : settingNamed(entries(), name).text(settings);
}

bool changesOverTime(std::string_view name) {
  static const std::set<T> names{"zoom", "turn", "shift", "centre", "strength", "source", "band"};
  return names.count(name) != 0;
}

}  // namespace jugendstil
