// SPDX-License-Identifier: Apache-2.0
// What makes a dive's frames out of the ones before.
#pragma once

#include <functional>
#include <memory>

#include "dive/inputs.h"
#include "dive/plan.h"

namespace jugendstil {

class DiveMaker {
 public:
  // Steps done and steps at most; may throw Stopped, and the frame is given up.
  using Steps = std::function<void(int, int)>;

  virtual ~DiveMaker() = default;

  // The start made in full as a key says, at that strength: the first frame, and what all others are held to.
  virtual Image whole(std::size_t key, double strength, const Steps& told) = 0;

  // A frame made out of `moved`, the frame before after its move; by smaller steps where `caution` is
  // below 1. Empty where it came to nothing. It depends on nothing but its arguments. All RGB in [0, 1], of
  // the worked size.
  virtual Image next(const Image& moved, const DiveFrame& frame, std::int64_t place, double caution,
                     const Steps& told) = 0;

  // What is seen of a frame, which the next one comes out of as it is.
  virtual Image seen(const Image& made, const DiveFrame&) { return made; }
};

// `start` has the worked size. All must outlive it.
std::unique_ptr<DiveMaker> makeAmplifier(const DiveInputs& inputs, const DivePlan& plan, const Image& start);
std::unique_ptr<DiveMaker> makeDivePainter(const DiveInputs& inputs, const DivePlan& plan,
                                           const Image& start);
std::unique_ptr<DiveMaker> makeQuickDiver(const DiveInputs& inputs, const DivePlan& plan, const Image& start);
// The one that the settings ask for.
std::unique_ptr<DiveMaker> makeDiveMaker(const DiveInputs& inputs, const DivePlan& plan, const Image& start);

// Between two pictures of one size, by part 0 to 1.
Image mixedPictures(const Image& a, const Image& b, double part);

}  // namespace jugendstil
