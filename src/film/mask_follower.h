// A mask given for one frame, followed through the clip.
#pragma once

#include "film/lead_maker.h"
#include "image/image.h"

namespace jugendstil {

class MaskFollower {
 public:
  // One channel, 0 to 1; the softness of its edge is measured here and kept.
  explicit MaskFollower(const Image& mask);

  // Carries the mask to a frame along its motion back to the one at which the mask stands (or on to it, when
  // going backward).
  void follow(const Motion& motion);

  const Image& mask() const { return mask_; }
  // How much of the edge was carried along trusted motion, over all frames since the mask was given: 1 is
  // all, each frame's share counting in full. Falls where the subject is hidden or changes shape quickly.
  double confidence() const { return confidence_; }

 private:
  void draw();

  Image mask_;
  Image distance_;      // to the outline in pixels, positive inside
  float softness_ = 1;  // half the width of the edge, in pixels
  double confidence_ = 1;
};

}  // namespace jugendstil
