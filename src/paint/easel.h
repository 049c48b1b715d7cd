// SPDX-License-Identifier: Apache-2.0
// One level of a painting: what it is judged by, and its state as it is painted.
#pragma once

#include <limits>
#include <memory>
#include <optional>
#include <vector>

#include "image/planes.h"
#include "paint/checkpoint.h"
#include "paint/likeness.h"
#include "paint/plan.h"
#include "paint/pyramid.h"
#include "paint/reference.h"
#include "solver/adam.h"
#include "solver/lbfgs.h"
#include "style/objective.h"

namespace jugendstil {

// What a region of the picture is to be like.
struct RegionTargets {
  ReferenceTargets targets;
  Image weights{};  // 1 channel, of the level's picture size; empty: everywhere
  double area = 1;  // relative
};

// The evaluator and the objective for a level's canvas.
class Easel {
 public:
  Easel(const Chain& chain, const std::vector<RegionTargets>& regions, const LevelPlan& plan,
        const PaintSettings& settings);
  // One region everywhere.
  Easel(const Chain& chain, const ReferenceTargets& targets, const LevelPlan& plan,
        const PaintSettings& settings)
      : Easel(chain, std::vector<RegionTargets>{{targets}}, plan, settings) {}

  // Takes other references than it was made with. What was held before is forgotten.
  void judgeBy(const std::vector<RegionTargets>& regions);

  // The drawing that content and layout keep (of any size), and how strongly. To be called before painting,
  // and again for each frame of a film.
  void hold(const Image& drawing, const Likeness& likeness);

  // The picture that pixels are held to, and how strongly each (1 channel); both of the level's picture size.
  void holdPixels(const Image& picture, const Image& strength, double weight);
  void freePixels();

  // Looks at the style of a part of the picture by itself as well, as strongly as its area is large: beside
  // much that is painted, little that is not would hardly count in the statistics of the whole. `weights`
  // has 1 channel and the level's picture size.
  void lookAt(const ReferenceTargets& targets, const Image& weights);
  void lookAtAllAlike();

  Objective& objective() { return *objective_; }
  const LevelPlan& plan() const { return plan_; }
  SolverKind solver() const { return settings_.solver; }

 private:
  // One measure a band. `canvas` says where, with its margin; empty: everywhere.
  void addStyles(const ReferenceTargets& targets, const Image& canvas, double area,
                 std::vector<Objective::Style>& styles, std::vector<double>& counts) const;

  LevelPlan plan_;
  PaintSettings settings_;
  std::vector<double> emphasis_;  // of each style band; 1 together
  std::size_t contentBand_;
  std::unique_ptr<Evaluator> evaluator_;
  std::unique_ptr<Objective> objective_;
};

// How large the steps of a level are: all of them by `factor`, and the first `warmUp` of them less, while the
// solver learns the lie of the land; `coarse` is for the coarse levels of the pyramid alone.
struct Pace {
  float factor = 1;
  int warmUp = 5;
  float coarse = 1;
};

// The pace of a level: a finishing one hardly moves what is coarse. Where things are and what colours they
// have was settled before it; a proof, which leaves it out, then shows what the whole will be.
Pace paceOf(const LevelPlan& level);

// The coefficients on their way, the solver, and the last state known to be good.
class LevelRun {
 public:
  // `first` has the level's picture size. The easel must outlive the run.
  LevelRun(Easel& easel, const Image& first, Pace pace = {});

  // The margin too as it was left by an earlier run: `canvas` as canvas() gives it. What a reflection would
  // put there has the strokes' light from the wrong side.
  LevelRun(Easel& easel, const Image& first, const Image& canvas, Pace pace);

  // One step, numbered from 0 of `steps` over which the pace falls; `draw` picks what is random in it.
  // Returns whether it was good: with Adam, a loss that is not a number or has run away takes the state back
  // to a good one and halves all further steps. L-BFGS keeps the best state, and gives that one's loss.
  bool step(int step, int steps, std::uint64_t draw, LossTerms& loss);

  // All that the next step depends on, into a file or out of it.
  void exchange(StateExchange& with);

  // Whether any step was good.
  bool sound() const { return best_ < std::numeric_limits<double>::infinity(); }

  // The picture as it stands, without the margin; values may leave [0, 1].
  Image picture();
  // The same with its margin.
  Image canvas();

 private:
  LevelRun(Easel& easel, Planes canvas, Pace pace);
  bool stepByAdam(int step, int steps, std::uint64_t draw, LossTerms& loss);
  bool stepByLbfgs(int step, std::uint64_t draw, LossTerms& loss);
  void takeBack();
  void reconstruct();

  Easel& easel_;
  Pyramid pyramid_;
  Planes picture_;
  Planes gradient_;
  std::vector<float> coefficients_;
  // One of them.
  std::optional<Adam> adam_;
  std::optional<Lbfgs> lbfgs_;
  // Adam's: gradients of the pyramid's levels, plane by plane, and the last good state.
  Pyramid::Slopes slopes_;
  Checkpoint good_;
  // L-BFGS's: the gradient of all coefficients, and the best state.
  std::vector<float> slope_;
  std::vector<float> bestState_;
  std::uint64_t draw_ = 0;  // what is random in L-BFGS's present function
  LossTerms bestLoss_;      // of its best point
  double best_ = std::numeric_limits<double>::infinity();
  Pace pace_;
};

}  // namespace jugendstil
