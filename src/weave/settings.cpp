// SPDX-License-Identifier: Apache-2.0
#include "weave/settings.h"

#include <fmt/format.h>

#include "base/error.h"
#include "base/words.h"

namespace jugendstil {
namespace {

using S = WeaveSettings;
using T = std::string_view;

constexpr int kMostPixels = 65535;  // a side; what files hold
constexpr std::uint64_t kMostSeed = 0xFFFFFFFFULL;

const Choices<std::optional<Depth>> kPieceDepths{
    {"auto", {}}, {"8", Depth::eight}, {"16", Depth::sixteen}, {"float", Depth::floating}};
const Choices<Mix> kMixes{{"apart", Mix::apart}, {"blended", Mix::blended}};

void setSize(S& s, T text) {
  if (text == "auto") {
    s.width = s.height = 0;
    return;
  }
  const auto sides = splitAt(text, 'x');
  if (sides.size() != 2)
    throw UsageError(fmt::format("size is WIDTHxHEIGHT like 2048x1536, not \"{}\"", text));
  s.width = wholeSetting("size's width", sides[0], 1, kMostPixels);
  s.height = wholeSetting("size's height", sides[1], 1, kMostPixels);
}

void setRepeats(S& s, T text) {
  const Choices<int> choices{{"none", 0}, {"across", 1}, {"down", 2}, {"both", 3}};
  const int choice = choiceSetting("repeats", text, choices);
  s.repeats = {(choice & 1) != 0, (choice & 2) != 0};
}

std::string repeatsText(const S& s) {
  if (s.repeats.across) return s.repeats.down ? "both" : "across";
  return s.repeats.down ? "down" : "none";
}

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"size", "WIDTHxHEIGHT", "of the piece in pixels (auto: that of the layout or map, or 1024x1024)",
        false},
       setSize,
       [](const S& s) {
         return s.width == 0 ? std::string("auto") : fmt::format("{}x{}", s.width, s.height);
       }},
      {{"repeats", "none|across|down|both",
        "the edges meet, so that the piece can be laid beside itself without a seam (none)", false},
       setRepeats,
       repeatsText},
      {{"mix", "apart|blended",
        "how several swatches meet: each in patches with joins of their own (apart), or going over softly",
        false},
       [](S& s, T t) { s.mix = choiceSetting("mix", t, kMixes); },
       [](const S& s) { return wordOf(s.mix, kMixes); }},
      {{"seed", "N", "another one is another piece of the same cloth (1)", true},
       [](S& s, T t) { s.seed = largeSetting("seed", t, kMostSeed); },
       [](const S& s) { return std::to_string(s.seed); }},
      {{"likeness", "0..100",
        "along a photo: how strongly its drawing is followed: 20 leaves strokes whole, 80 keeps every "
        "contour "
        "(50)",
        true},
       [](S& s, T t) { s.likeness = numberSetting("likeness", t, 0, 100); },
       [](const S& s) { return fmt::format("{}", s.likeness); }},
      {{"stroke", "FACTOR",
        "along a photo: size of the references' brush-work relative to the picture: 2 is twice as broad (1)",
        true},
       [](S& s, T t) { s.stroke = numberSetting("stroke", t, 0.1, 8); },
       [](const S& s) { return fmt::format("{}", s.stroke); }},
      {{"palette", kPaletteWords,
        "along a photo: whose colours the picture has, as in paint; only with reference is every pixel one "
        "of "
        "the references' own (reference)",
        false},
       [](S& s, T t) { s.palette = choiceSetting("palette", t, kPalettes); },
       [](const S& s) { return wordOf(s.palette, kPalettes); }},
      {{"trim", "PART|auto",
        "along a photo: cuts a frame off the references: a part of each side, or found by itself; 0 keeps it "
        "(auto)",
        false},
       [](S& s, T t) { s.trim = trimSetting(t); },
       [](const S& s) { return trimText(s.trim); }},
      {{"long-edge", "PX", "along a photo: longer side of the picture (auto: the photo's own, up to 1024)",
        false},
       [](S& s, T t) { s.longEdge = wholeOrAutoSetting("long-edge", t, 16, 16384); },
       [](const S& s) { return autoOr(s.longEdge); }},
      {{"opacity", "SHARE", "along a photo: how much of the picture lies over it: 0.7 or 70% (1)", true},
       [](S& s, T t) { s.opacity = shareSetting("opacity", t); },
       [](const S& s) { return fmt::format("{}", s.opacity); }},
      {{"blend", "MODE",
        "along a photo: how the picture is laid over it: normal, multiply, screen and the other modes of W3C "
        "compositing (normal)",
        false},
       [](S& s, T t) { s.blend = blendModeOf(t); },
       [](const S& s) { return blendModeName(s.blend); }},
      {{"depth", "auto|8|16|float",
        "bits of the result; float for .tif and .exr (auto: the swatch's own, as far as the format goes)",
        false},
       [](S& s, T t) { s.encoding.depth = choiceSetting("depth", t, kPieceDepths); },
       [](const S& s) { return wordOf(s.encoding.depth, kPieceDepths); }},
      {{"quality", "0..100", "of a JPEG (auto: 95) or WebP (auto: 92)", false},
       [](S& s, T t) {
         s.encoding.quality = t == "auto" ? std::nullopt : std::optional(wholeSetting("quality", t, 0, 100));
       },
       [](const S& s) {
         return s.encoding.quality ? std::to_string(*s.encoding.quality) : std::string("auto");
       }},
      {{"threads", "N", "processors used; the result does not depend on them (auto: all)", false},
       [](S& s, T t) { s.threads = wholeOrAutoSetting("threads", t, 1, 1024); },
       [](const S& s) { return autoOr(s.threads); }},
  };
  return table;
}

}  // namespace

const std::vector<SettingInfo>& weaveSettingTable() {
  static const std::vector<SettingInfo> table = settingInfos(entries());
  return table;
}

bool isOfAlong(std::string_view name) {
  for (const char* own : {"likeness", "stroke", "palette", "trim", "long-edge", "opacity", "blend"}) {
    if (name == own) return true;
  }
  return false;
}

bool isOfGrowing(std::string_view name) { return name == "size" || name == "repeats" || name == "mix"; }

void setWeaveSetting(WeaveSettings& settings, std::string_view name, std::string_view text) {
  settingNamed(entries(), name).set(settings, text);
}

std::string weaveSettingText(const WeaveSettings& settings, std::string_view name) {
  return settingNamed(entries(), name).text(settings);
}

}  // namespace jugendstil
