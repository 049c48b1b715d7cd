// SPDX-License-Identifier: Apache-2.0
// The mask of every frame of a film, from what the user gave.
#pragma once

#include <memory>
#include <optional>

#include "film/mask_follower.h"
#include "film/work.h"

namespace jugendstil {

class MaskTrack {
 public:
  // Carries the first given mask back to the first frame where it was given later. Throws UsageError: no
  // mask, a mask for a frame that is not chosen, a mask clip that is shorter than the clip.
  explicit MaskTrack(FilmWork& work);

  // Where painting shows at a frame, 1 channel of the film's size. `motion` leads back to the frame asked for
  // before, if that was its predecessor in the shot. Frames are asked for in order.
  Image at(std::int64_t place, const Image& frame, const std::optional<Motion>& motion);

  // Of the frame asked for last; 1 for masks that were given frame by frame.
  double confidence() const { return confidence_; }

 private:
  Image sized(const Image& mask) const;
  void carryBack(std::int64_t place, const Image& mask);
  Image followed(std::int64_t place, const Image& frame, const std::optional<Motion>& motion);

  FilmWork& work_;
  FilmMask mask_;
  std::map<std::int64_t, Image> given_;  // by place
  std::map<std::int64_t, double> backConfidence_;
  std::unique_ptr<FrameSource> source_;
  std::optional<MaskFollower> follower_;
  double confidence_ = 1;
};

}  // namespace jugendstil
