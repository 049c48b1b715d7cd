// SPDX-License-Identifier: Apache-2.0
// The finest detail of a film's frames, and all beyond the size at which they are painted.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "motion/motion.h"
#include "paint/basis.h"
#include "paint/enlarge.h"
#include "paint/plan.h"

namespace jugendstil {

// As a single painting's is (paint/enlarge.h), but led: where motion can be trusted a patch keeps the place
// in the references that it had in the frame before, and what was laid in there is carried along and mixed
// with what is laid in now, because places are whole pixels and motion is not (after Benard et al. 2013,
// "Stylizing animation by example").
class LedBrushwork {
 public:
  // The plan's softened size and its stages of enlarging are followed.
  LedBrushwork(PaintPlan plan, double stroke, std::uint64_t seed);

  // References and likeness of the frames to come; nothing leads the first of them.
  void beginShot(const PaintBasis& basis);

  // The painted frame, at the plan's own size. `drawing` is the photo as it is drawn, of that size; `motion`
  // leads back to the frame that was laid in before. Without a drawing - the clip's frame is damaged - the
  // frame is neither led nor does it lead. `likenessHere` is as in Likeness. RGB in [0, 1].
  Image laidIn(const Image& painted, const Image& drawing, const std::optional<Motion>& motion,
               const Image& likenessHere = {});

  // A frame that stands as it is, of the plan's own size, leads the next one.
  void take(const Image& picture);

 private:
  // A point of a reference, between pixels: motion adds up in it.
  struct ReferencePoint {
    float x = 0;
    float y = 0;
    int source = -1;
  };
  // What a frame leaves for the next one.
  struct Trace {
    std::vector<ReferencePoint> points;  // node by node; empty: not known
    Image laid;                          // what was added; empty: nothing leads
  };
  struct Stage {
    Size from;
    Size to;
    std::optional<Brush> brush;
    Trace before;
  };
  static std::vector<ReferencePoint> carried(const std::vector<ReferencePoint>& points, const Motion& motion);
  Image enlarged(const Stage& stage, const Image& from, const Image& covered,
                 const std::optional<Motion>& motion, Trace& trace) const;
  // The same, and what the next frame is led by is remembered where the frame leads.
  Image goneThrough(Stage& stage, const Image& from, const Image& covered,
                    const std::optional<Motion>& motion, bool leads) const;

  PaintPlan plan_;
  double stroke_;
  std::uint64_t seed_;
  double likeness_ = 0;
  std::vector<Stage> quiet_;  // of quiet places alone, up to what the others begin with
  std::vector<Stage> stages_;
};

}  // namespace jugendstil
