// SPDX-License-Identifier: Apache-2.0
// The general painter as it learns: photos after references, both drawn at random.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "learn/general_painter.h"
#include "network/chain.h"
#include "paint/reference.h"
#include "pictures.h"
#include "style/objective.h"

namespace training {

struct Reference {
  Stored picture;
  jugendstil::ReferenceTargets targets{};
  std::vector<float> manner{};  // at likeness 0
};

struct TrainingPlan {
  int steps = 9000;  // over which their size falls
  int batch = 2;     // pairs of a photo and a reference for each step
  int edge = 320;    // of photos, the longer one
  int piece = 208;   // of what is judged, a side
  std::uint64_t seed = 1;
};

// Measures a reference as one for photos of the plan's size.
Reference measured(const jugendstil::Chain& chain, const Stored& picture, const TrainingPlan& plan);

class GeneralLearner {
 public:
  // All must live as long. Photos have a short side of at least the plan's piece.
  GeneralLearner(const jugendstil::Chain& chain, const std::vector<Stored>& photos,
                 const std::vector<Reference>& references, const TrainingPlan& plan);
  ~GeneralLearner();

  // The mean of the step's losses, before it.
  jugendstil::LossTerms step();
  int stepsDone() const;
  const jugendstil::GeneralPainter& painter() const;

  // All that the next step depends on, into a file or out of it.
  void exchange(jugendstil::StateExchange& with);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace training
