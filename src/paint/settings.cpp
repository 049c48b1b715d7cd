// SPDX-License-Identifier: Apache-2.0
#include "paint/settings.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/error.h"
#include "base/words.h"
#include "grade/settings.h"
#include "recipe/setting_values.h"

namespace jugendstil {
namespace {

const std::vector<std::pair<std::string, SolverKind>> kSolvers{{"adam", SolverKind::adam},
                                                               {"lbfgs", SolverKind::lbfgs}};
const std::vector<std::pair<std::string, bool>> kUntil{{"steps", false}, {"good", true}};
const std::vector<std::pair<std::string, PrecisionChoice>> kPrecisions{
    {"auto", PrecisionChoice::automatic}, {"full", PrecisionChoice::full}, {"half", PrecisionChoice::half}};

std::vector<std::pair<std::string, double>> parseEmphasis(std::string_view text) {
  std::vector<std::pair<std::string, double>> result;
  if (text == "even") return result;
  for (const std::string& part : splitAt(text, ',')) {
    const auto equals = part.find('=');
    if (equals == std::string::npos || equals == 0) {
      throw UsageError(fmt::format("emphasis is \"even\" or like fine=2,large=0.5, not \"{}\"", text));
    }
    const std::string band = part.substr(0, equals);
    result.emplace_back(
        band, numberSetting("emphasis of " + band, std::string_view(part).substr(equals + 1), 0, 100));
  }
  return result;
}

std::vector<std::pair<std::string, double>> parseLayers(std::string_view text) {
  std::vector<std::pair<std::string, double>> result;
  if (text == "bands") return result;
  for (const std::string& part : splitAt(text, ',')) {
    const auto equals = part.find('=');
    const std::string layer = part.substr(0, equals);
    if (layer.empty())
      throw UsageError(fmt::format("style-at is \"bands\" or like 1_2,3_3=2, not \"{}\"", text));
    const double weight =
        equals == std::string::npos
            ? 1
            : numberSetting("style-at of " + layer, std::string_view(part).substr(equals + 1), 0, 100);
    result.emplace_back(layer, weight);
  }
  return result;
}

std::vector<int> parseSteps(std::string_view text) {
  std::vector<int> result;
  if (text == "auto") return result;
  for (const std::string& part : splitAt(text, ',')) result.push_back(wholeSetting("steps", part, 1, 100000));
  return result;
}

std::size_t parseMemory(std::string_view text) {
  if (text == "auto") return 0;
  // 2G, 2GB and 2GiB are all the same.
  std::string_view number = text;
  for (const char letter : {'B', 'i'}) {
    if (number.ends_with(letter) || number.ends_with(static_cast<char>(std::tolower(letter))))
      number.remove_suffix(1);
  }
  const char unit = number.empty() ? ' ' : number.back();
  const bool giga = unit == 'G' || unit == 'g';
  if (!giga && unit != 'M' && unit != 'm')
    throw UsageError(fmt::format("memory is \"auto\" or a size like 2G or 900M, not \"{}\"", text));
  number.remove_suffix(1);
  const double value = numberSetting("memory", number, giga ? 0.1 : 1, 1e6);
  return static_cast<std::size_t>(value * (giga ? 1024 : 1)) << 20;
}

std::string memoryText(std::size_t bytes) {
  return bytes == 0 ? std::string("auto") : fmt::format("{}M", bytes >> 20);
}

SnapshotSteps parseSnapshots(std::string_view text) {
  if (text.find(',') == std::string_view::npos) return {wholeSetting("snapshots", text, 0, 100000), {}};
  SnapshotSteps steps;
  for (const std::string& part : splitAt(text, ','))
    steps.at.push_back(wholeSetting("snapshots", part, 1, 100000));
  return steps;
}

std::string snapshotText(const SnapshotSteps& steps) {
  return steps.at.empty() ? std::to_string(steps.every) : fmt::format("{}", fmt::join(steps.at, ","));
}

using S = PaintSettings;
using T = std::string_view;

const std::vector<SettingEntry<S>>& entries() {
  static const std::vector<SettingEntry<S>> table{
      {{"likeness", "0..100",
        "how strongly the photo's own drawing is held: 20 lets the brush rule, 80 keeps every contour (50)",
        true},
       [](S& s, T t) { s.likeness = numberSetting("likeness", t, 0, 100); },
       [](const S& s) { return fmt::format("{}", s.likeness); }},
      {{"lines", "0..100",
        "draw the photo's own lines over the painting, in the reference's darkest ink, so strongly (0)",
        true},
       [](S& s, T t) { s.lines = numberSetting("lines", t, 0, 100); },
       [](const S& s) { return fmt::format("{}", s.lines); }},
      {{"stroke", "FACTOR",
        "size of the reference's brush-work relative to the picture: 2 is twice as broad (1)", true},
       [](S& s, T t) { s.stroke = numberSetting("stroke", t, 0.1, 8); },
       [](const S& s) { return fmt::format("{}", s.stroke); }},
      {{"palette", kPaletteWords,
        "whose colours the painting has: the reference's; the photo's, with which it is painted; or "
        "afterwards only "
        "the photo's chroma, lightness or hue put back (reference)",
        false},
       [](S& s, T t) { s.palette = choiceSetting("palette", t, kPalettes); },
       [](const S& s) { return wordOf(s.palette, kPalettes); }},
      {{"measure", "gram|moments|sliced|neighbours|critic",
        "how style is measured: gram is the rounded default, moments freer, sliced calmest and slower, "
        "neighbours "
        "draws each patch to the reference's most like it, critic is a judge that learns as it goes (gram)",
        false},
       [](S& s, T t) { s.measure = measureFromName(std::string(t)); },
       [](const S& s) { return nameOf(s.measure); }},
      {{"emphasis", "BAND=X,...", "how much each band counts: fine, small, medium, broad, large (1 each)",
        false},
       [](S& s, T t) { s.emphasis = parseEmphasis(t); },
       [](const S& s) {
         std::vector<std::string> parts;
         for (const auto& [band, value] : s.emphasis) parts.push_back(fmt::format("{}={}", band, value));
         return parts.empty() ? std::string("even") : fmt::format("{}", fmt::join(parts, ","));
       }},
      {{"style-at", "LAYER=X,...",
        "measure style at these layers of the network, in place of its own bands, each counting so much: "
        "1_2,3_3=2 (bands)",
        false},
       [](S& s, T t) { s.styleAt = parseLayers(t); },
       [](const S& s) {
         std::vector<std::string> parts;
         for (const auto& [layer, weight] : s.styleAt) parts.push_back(fmt::format("{}={}", layer, weight));
         return parts.empty() ? std::string("bands") : fmt::format("{}", fmt::join(parts, ","));
       }},
      {{"content-at", "LAYER", "hold likeness at this layer, in place of the network's own band: 3_3 (band)",
        false},
       [](S& s, T t) { s.contentAt = t == "band" ? "" : std::string(t); },
       [](const S& s) { return s.contentAt.empty() ? std::string("band") : s.contentAt; }},
      {{"content", "structure|features",
        "what likeness holds: features keeps forms, edges and tones, structure only how parts resemble each "
        "other (features)",
        false},
       [](S& s, T t) { s.content = contentFromName(std::string(t)); },
       [](const S& s) { return nameOf(s.content); }},
      {{"start", "photo|quick|reference|noise|grey-noise|FILE",
        "what is painted over: the photo in the reference's colours, what --quick makes of it (fewer steps "
        "are "
        "needed), the reference, noise in its colours or greys, or any picture (photo)",
        false},
       [](S& s, T t) {
         if (t.empty())
           throw UsageError(
               "start is photo, quick, reference, noise, grey-noise or a picture file, not \"\"");
         s.start = std::string(t);
       },
       [](const S& s) { return s.start; }},
      {{"solver", "adam|lbfgs",
        "how the loss is brought down: adam, or L-BFGS with a line search, whose steps are evaluations "
        "(adam)",
        false},
       [](S& s, T t) { s.solver = choiceSetting("solver", t, kSolvers); },
       [](const S& s) { return wordOf(s.solver, kSolvers); }},
      {{"steps", "N[,N...]", "steps of each level, coarse to fine; one number serves all (auto)", false},
       [](S& s, T t) { s.steps = parseSteps(t); },
       [](const S& s) {
         return s.steps.empty() ? std::string("auto") : fmt::format("{}", fmt::join(s.steps, ","));
       }},
      {{"until", "steps|good",
        "when a level ends: with its last step, or as soon as nothing visible changes any more (steps)",
        false},
       [](S& s, T t) { s.untilGood = choiceSetting("until", t, kUntil); },
       [](const S& s) { return wordOf(s.untilGood, kUntil); }},
      {{"levels", "N", "sizes painted one after the other, coarse to fine (auto)", false},
       [](S& s, T t) { s.levels = wholeOrAutoSetting("levels", t, 1, 8); },
       [](const S& s) { return autoOr(s.levels); }},
      {{"long-edge", "PX", "longer side of the painting (auto: the photo's own, up to 1024)", false},
       [](S& s, T t) { s.longEdge = wholeOrAutoSetting("long-edge", t, 16, 16384); },
       [](const S& s) { return autoOr(s.longEdge); }},
      {{"working-edge", "PX",
        "longer side up to which losses are optimised; from there to the painting's size the references' "
        "brush-work is "
        "laid in patch by patch (auto: about 512)",
        false},
       [](S& s, T t) { s.workingEdge = wholeOrAutoSetting("working-edge", t, 16, 16384); },
       [](const S& s) { return autoOr(s.workingEdge); }},
      {{"brushwork", "yes|no",
        "lay in the references' own strokes for the finer detail, and for all beyond the working edge; no: "
        "all "
        "is as it was optimised, at the painting's own size (yes)",
        false},
       [](S& s, T t) { s.brushwork = yesNoSetting("brushwork", t); },
       [](const S& s) { return yesNo(s.brushwork); }},
      {{"trim", "PART|auto",
        "cuts a frame off the references: a part of each side, or found by itself; 0 keeps it (auto)", false},
       [](S& s, T t) { s.trim = trimSetting(t); },
       [](const S& s) { return trimText(s.trim); }},
      {{"opacity", "SHARE", "how much of the painting lies over the photo: 0.7 or 70% (1)", true},
       [](S& s, T t) { s.opacity = shareSetting("opacity", t); },
       [](const S& s) { return fmt::format("{}", s.opacity); }},
      {{"blend", "MODE",
        "how the painting is laid over the photo: normal, multiply, screen, overlay, soft-light, luminosity "
        "and the "
        "other modes of W3C compositing (normal)",
        false},
       [](S& s, T t) { s.blend = blendModeOf(t); },
       [](const S& s) { return blendModeName(s.blend); }},
      {{"finish", "yes|no", "take the painting to the photo's own size (no)", false},
       [](S& s, T t) { s.finish = yesNoSetting("finish", t); },
       [](const S& s) { return yesNo(s.finish); }},
      {{"memory", "SIZE",
        "what may be held at once, like 2G or 900M; what needs more is painted in tiles, to the "
        "same result (auto: three quarters of the machine's)",
        false},
       [](S& s, T t) { s.memory = parseMemory(t); },
       [](const S& s) { return memoryText(s.memory); }},
      {{"quick", "yes|no",
        "paint at once, by the painter that knows any reference, without optimising: in seconds, and rougher "
        "(no)",
        false},
       [](S& s, T t) { s.quick = yesNoSetting("quick", t); },
       [](const S& s) { return yesNo(s.quick); }},
      {{"proof", "yes|no",
        "leave the last level out: small, in two fifths of the time, and what is seen there is what the "
        "whole "
        "will be (no)",
        false},
       [](S& s, T t) { s.proof = yesNoSetting("proof", t); },
       [](const S& s) { return yesNo(s.proof); }},
      {{"seed", "N", "another seed is another hand; the same one gives the same bytes (1)", true},
       [](S& s, T t) { s.seed = largeSetting("seed", t, 4294967295ULL); },
       [](const S& s) { return std::to_string(s.seed); }},
      {{"depth", "auto|8|16|float",
        "bits of the picture's file; float for .tif and .exr (auto: the photo's own, as far as the format "
        "goes)",
        false},
       [](S& s, T t) { s.encoding.depth = depthSetting("depth", t); },
       [](const S& s) { return depthText(s.encoding.depth); }},
      {{"quality", "0..100", "of a JPEG (auto: 95) or WebP (auto: 92)", false},
       [](S& s, T t) { s.encoding.quality = qualitySetting("quality", t); },
       [](const S& s) { return qualityText(s.encoding.quality); }},
      {{"snapshots", "N|N,N...",
        "keep the picture every N steps, or after these, beside the result and side by side (0: never)",
        false},
       [](S& s, T t) { s.snapshots = parseSnapshots(t); },
       [](const S& s) { return snapshotText(s.snapshots); }},
      {{"threads", "N", "processors used (auto: all)", false},
       [](S& s, T t) { s.threads = wholeOrAutoSetting("threads", t, 1, 1024); },
       [](const S& s) { return autoOr(s.threads); }},
      {{"precision", "auto|full|half", "f32, bf16, or bf16 where the processor has it (auto)", false},
       [](S& s, T t) { s.precision = choiceSetting("precision", t, kPrecisions); },
       [](const S& s) { return wordOf(s.precision, kPrecisions); }},
  };
  return table;
}

}  // namespace

bool SnapshotSteps::after(int step) const {
  if (step <= 0) return false;
  return at.empty() ? every > 0 && step % every == 0 : std::find(at.begin(), at.end(), step) != at.end();
}

const std::vector<SettingInfo>& paintSettingTable() {
  static const std::vector<SettingInfo> table = settingInfos(entries());
  return table;
}

void setPaintSetting(PaintSettings& settings, std::string_view name, std::string_view text) {
  settingNamed(entries(), name).set(settings, text);
}

std::string paintSettingText(const PaintSettings& settings, std::string_view name) {
  return settingNamed(entries(), name).text(settings);
}

}  // namespace jugendstil
