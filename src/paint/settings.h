// SPDX-License-Identifier: Apache-2.0
// Everything a painter can set, with one table that names, explains, checks and prints each setting.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "image/blend.h"
#include "image/depth.h"
#include "network/evaluator.h"
#include "recipe/palette.h"
#include "recipe/setting_values.h"
#include "style/content.h"
#include "style/measure_kind.h"

namespace jugendstil {

enum class SolverKind { adam, lbfgs };
enum class PrecisionChoice { automatic, full, half };

// After which steps the picture is kept.
struct SnapshotSteps {
  int every = 0;        // 0: not by count
  std::vector<int> at;  // these alone, from 1

  bool wanted() const { return every > 0 || !at.empty(); }
  bool after(int step) const;
};

struct PaintSettings {
  double likeness = 50;  // 0 to 100
  double lines = 0;      // 0 to 100: how strongly the photo's lines are drawn over the painting
  double stroke = 1;     // size of the reference's brush-work relative to the picture
  MeasureKind measure = MeasureKind::gram;
  ContentKind content = ContentKind::features;
  Palette palette = Palette::reference;
  // "photo", "reference", "noise", "grey-noise"; "quick" or a picture file, which the inputs bring along.
  std::string start = "photo";
  std::vector<std::pair<std::string, double>> emphasis;  // bands not named count 1
  // Layers of the network, and how much each counts; empty: its own bands.
  std::vector<std::pair<std::string, double>> styleAt;
  std::string contentAt;  // empty: its own band
  SolverKind solver = SolverKind::adam;
  std::vector<int> steps;  // coarse to fine; empty: chosen by level
  bool untilGood = false;  // a level ends before its steps do where nothing visible changes any more
  int levels = 0;          // 0: chosen by size
  int longEdge = 0;        // pixels; 0: the photo's own, up to 1024
  int workingEdge = 0;     // pixels up to which losses are optimised; 0: chosen by the picture's area
  bool brushwork = true;   // finest detail, and all beyond the working edge, from the references themselves
  double trim = -1;        // part of each side cut from references; negative: a frame is found by itself
  double opacity = 1;      // how much of the painting lies over the photo
  BlendMode blend = BlendMode::normal;
  bool finish = false;     // go on to the photo's own size
  std::size_t memory = 0;  // bytes that may be held at once; 0: three quarters of the machine's
  bool quick = false;      // no optimising: painted at once by the general painter; not looked at by paint()
  bool proof = false;      // stop before the last level: a small picture of what the whole will look like
  std::uint64_t seed = 1;
  Encoding encoding;  // of the picture's file
  SnapshotSteps snapshots;
  int threads = 0;  // 0: all processors
  PrecisionChoice precision = PrecisionChoice::automatic;
};

// In the order in which they are shown.
const std::vector<SettingInfo>& paintSettingTable();

// Sets one setting from text. Throws UsageError that names the setting, what was given and what is right.
void setPaintSetting(PaintSettings& settings, std::string_view name, std::string_view text);

// The text that setPaintSetting would take for the present value.
std::string paintSettingText(const PaintSettings& settings, std::string_view name);

}  // namespace jugendstil
