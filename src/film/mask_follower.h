// SPDX-License-Identifier: Apache-2.0
// A mask given for one frame, followed through the clip.
#pragma once

#include <memory>

#include "image/image.h"
#include "motion/motion.h"

namespace jugendstil {

class MaskFollower {
 public:
  // The mask (one channel, 0 to 1) and the frame that it was made for. The softness of its edge is measured
  // here and kept; so are the colours inside and around it.
  MaskFollower(const Image& frame, const Image& mask);

  // Carries the mask to a frame along its motion back to the one at which the mask stands (or on to it, when
  // going backward). Flow runs over the edges of things, so near the outline the colours decide: ground that
  // a mover has just left would otherwise stay with the mover.
  void follow(const Image& frame, const Motion& motion);

  const Image& mask() const { return mask_; }
  // How much of the outline's surroundings was seen from frame to frame, over all frames since the mask was
  // given: 1 is as much as any motion leaves. Falls where the subject is hidden or changes shape quickly.
  double confidence() const { return confidence_; }

 private:
  struct Colours;
  Image sidesBy(const Image& frame, const Image& carried) const;
  void draw();

  Image mask_;
  Image distance_;      // to the outline in pixels, positive inside
  float softness_ = 1;  // half the width of the edge, in pixels
  double confidence_ = 1;
  std::shared_ptr<Colours> colours_;
};

}  // namespace jugendstil
