// SPDX-License-Identifier: Apache-2.0
// How a frame follows from the ones before it.
#pragma once

#include <cstdint>
#include <deque>
#include <functional>

#include "film/lead.h"
#include "motion/motion.h"

namespace jugendstil {

// The frames of a shot so far, as far back as any is looked at.
class LeadMaker {
 public:
  // A region that was hidden comes back; so many frames ago it may still have been seen (after the long-term
  // term of Ruder, Dosovitskiy & Brox 2016).
  static constexpr std::int64_t kFarthest = 24;

  void beginShot() { frames_.clear(); }
  bool empty() const { return frames_.empty(); }
  // Places rise; frames that are missing are simply not added.
  void add(std::int64_t place, GreyFrame frame);

  // To the latest frame. Not to be called when empty.
  Motion toLatest(const GreyFrame& frame) const;

  // What the earlier painted frames say of this one: the latest where it is seen, older ones where it is not.
  // Painted frames have their ripeness as alpha. `before` is the latest frame of the clip itself.
  Lead lead(const GreyFrame& frame, const Image& before, const Motion& latest,
            const std::function<Image(std::int64_t)>& painted) const;

 private:
  struct Seen {
    std::int64_t place;
    GreyFrame frame;
  };
  std::deque<Seen> frames_;
};

// What one painted frame, its ripeness as alpha, says of the frame that the motion comes from.
Lead carriedAlong(const Image& painted, const Motion& motion);

// The canvas of the frame before, its margin carried along the motion of the picture's edge: a margin that
// stood still beside a picture that moves would be painted into it. What comes from outside of the canvas is
// mirrored.
Image carriedCanvas(const Image& canvas, const Flow& back);

// A painted frame with its ripeness as alpha: what is new in a frame is held less in the next ones, until
// some of them have worked on it. Without a lead all of it is ripe.
Image withRipeness(const Image& painted, const Lead* lead);

// `a` and `b` together, b's part rising from 0 to 1 with `by`; where one knows nothing the other counts
// alone.
Lead crossFaded(const Lead& a, const Lead& b, double by);

}  // namespace jugendstil
