// SPDX-License-Identifier: Apache-2.0
// The course of a painting from nothing: level after level, each begun with what the one before came to.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "paint/easel.h"
#include "paint/level.h"

namespace jugendstil {

// One step that was done.
struct LevelStep {
  std::size_t level = 0;
  int step = 0;  // of the level, from 0
  LevelRun& run;
  const LossTerms* loss = nullptr;  // null: it made things worse and was taken back
  int calmAt = 0;                   // after how many steps the level was calm; 0: not yet
};

struct LevelCourse {
  // Where to go on: the levels before, and this one's steps before, were done; the run is told what it was.
  std::size_t level = 0;
  int step = 0;
  std::function<void(LevelRun&)> restore;
  // The easel of a level with its drawing held, which stays until the next one is asked for.
  std::function<Easel&(std::size_t level)> easel;
  // Asked after each step, with how many were done of the level: whether the rest would change nothing to be
  // seen. The pace then falls within a few steps to where it would have ended. `calmAt` says after how many
  // it was so before the course was stopped; 0: not yet.
  std::function<bool(LevelRun&, int done)> calm;
  int calmAt = 0;
  // After each step. Stopped ends the course with the state reached; Error goes through.
  std::function<void(const LevelStep&)> stepped;
  // After each level but one that was stopped; false ends the course there.
  std::function<bool(LevelRun&)> ended;
};

// Steps of a level that are still done once it is calm.
inline constexpr int kCalmSteps = 10;

struct CourseResult {
  Image picture;  // at the size of the level reached; values may leave [0, 1]
  bool stopped = false;
};

// Paints `first` (any size) on. `draw` picks what is random; a factor below 1 takes smaller steps.
CourseResult paintCoarseToFine(const std::vector<LevelPlan>& levels, Image first, std::uint64_t draw,
                               float factor, const LevelCourse& course);

// The number that picks what is random in a step, fixed by the painting's own.
std::uint64_t drawAt(std::uint64_t draw, std::size_t level, int step);

}  // namespace jugendstil
