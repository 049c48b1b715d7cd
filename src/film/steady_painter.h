// SPDX-License-Identifier: Apache-2.0
// Frames of a film painted one after the other.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "film/inputs.h"
#include "film/lead.h"
#include "film/painted_frame.h"
#include "film/settings.h"
#include "paint/easel.h"

namespace jugendstil {

struct SteadySettings {
  double steady = 50;          // 0 to 100
  int frameSteps = kLedSteps;  // of a frame that is led, at most
};

// Steps done and steps at most. Stopped goes through, and the frame is given up.
using StepProgress = std::function<void(int, int)>;

// The network's evaluator and the references' statistics are made once and serve all frames.
class SteadyPainter {
 public:
  // Frames come and are painted at this size; the settings' long edge is not looked at. `start` is what a
  // shot's first frame is painted over where the settings' start is a file.
  SteadyPainter(const Chain& chain, std::vector<PaintReference> references, const PaintSettings& settings,
                const SteadySettings& steady, Size size, Image start = {});

  Size size() const { return plan_.levels.back().picture; }
  // A shot's colours are settled by its first frame and stay.
  void beginShot(const Image& photo);
  // On a basis that is settled already.
  void beginShot(PaintBasis basis);

  // A frame from nothing, coarse to fine; over `begun` where that is not empty. `draw` picks what is random.
  PaintedFrame paintFirst(const Image& photo, const Image& begun, std::uint64_t draw,
                          const StepProgress& progress);

  // A frame that is led, at the last level only, over `begun`, where that is not empty, in what is new. It
  // stops before its steps are done where the loss has come to `enough` and falls no more. Where the lead is
  // not the frame before, much may be new: `begins` takes as many steps as the last level of a frame from
  // nothing.
  PaintedFrame paintNext(const Image& photo, const Image& begun, const Lead& lead, bool begins, double enough,
                         std::uint64_t draw, const StepProgress& progress);

  // What the drawing is held by in parts of each frame.
  void hold(std::vector<FilmHold> holds) { holds_ = std::move(holds); }

  // With smaller steps from now on, for a frame that failed; 1 is as usual.
  void setCaution(float caution) { caution_ = caution; }

 private:
  struct Level {
    ReferenceTargets targets;
    LevelPlan plan;
  };
  void measure();
  Image firstStateOf(const Image& photo, const Image& drawing) const;
  Easel& lastEasel();
  int totalSteps() const;

  const Chain& chain_;
  std::vector<PaintReference> references_;
  PaintSettings settings_;
  SteadySettings steady_;
  Image start_;
  PaintPlan plan_;
  PaintBasis basis_;
  std::vector<FilmHold> holds_;
  std::vector<Level> levels_;
  std::unique_ptr<Easel> last_;
  float caution_ = 1;
};

// The weight of the held picture for a steadiness from 0 to 100.
double heldWeight(double steady);

}  // namespace jugendstil
