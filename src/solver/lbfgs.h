// SPDX-License-Identifier: Apache-2.0
// Limited-memory BFGS (Nocedal & Wright, Numerical Optimization, 2nd ed., algorithms 7.4 and 7.5) with a line
// search for the strong Wolfe conditions (algorithms 3.5 and 3.6). Our own: it asks and is told, where
// libraries call, so that a painting can stop, show itself and draw anew what is random between any two
// evaluations.
#pragma once

#include <cstddef>
#include <deque>
#include <span>
#include <vector>

#include "base/state_file.h"

namespace jugendstil {

struct LbfgsSettings {
  std::size_t memory = 8;    // pairs of steps and changes of slope that are kept
  double sufficient = 1e-4;  // part of the promised fall that a step must bring
  double curvature = 0.9;    // part of the slope along the line that may remain
  int mostTrials = 12;       // evaluations along one line
  double firstLength = 1;    // of the first step, in parameters, measured by its root mean square
};

// Asks and is told, so that the caller evaluates where and when it likes: evaluate at point(), call tell().
class Lbfgs {
 public:
  Lbfgs(std::vector<float> start, LbfgsSettings settings);

  // Where the function is to be evaluated next.
  const std::vector<float>& point() const { return trial_; }

  // Its value and slope there. A value that is not a number counts as infinitely bad.
  void tell(double value, std::span<const float> slope);

  // The best point told of, and its value (infinite before the first tell()).
  const std::vector<float>& best() const { return best_; }
  double bestValue() const { return bestValue_; }

  // For a function that has changed a little: goes on from the best point, whose value counts as unknown,
  // with the curvature that was learnt.
  void renew();

  // All that is known, into a file or out of it.
  void exchange(StateExchange& with);

 private:
  struct Pair {
    std::vector<float> step;
    std::vector<float> change;
    double curvature = 0;  // 1 / (step . change)
  };
  // A point of the line, with value and slope there.
  struct LinePoint {
    double at = 0;
    double value = 0;
    double slope = 0;
  };

  void begin(double value, std::span<const float> slope);
  void along(double at);
  void accept(double value, std::span<const float> slope);
  void zoom();
  std::vector<float> direction() const;

  LbfgsSettings settings_;
  std::vector<float> trial_;
  std::vector<float> best_;
  double bestValue_;
  std::deque<Pair> pairs_;

  bool started_ = false;
  std::vector<float> from_;  // where the line begins
  std::vector<float> fromSlope_;
  std::vector<float> direction_;
  LinePoint origin_;
  LinePoint before_;  // the trial before this one, while still going outward
  double at_ = 0;
  int trials_ = 0;
  bool zooming_ = false;
  LinePoint low_;  // the better end of the bracket
  LinePoint high_;
};

}  // namespace jugendstil
