// SPDX-License-Identifier: Apache-2.0
#include "film/mask_track.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "motion/trust.h"

namespace jugendstil {
namespace {

Image firstChannel(const Image& image) {
  if (image.channels == 1) return image;
  Image out(image.width, image.height, 1);
  for (std::size_t i = 0; i < out.area(); ++i) out.pixels[i] = image.pixels[i * image.channels];
  return out;
}

}  // namespace

MaskTrack::MaskTrack(FilmWork& work) : work_(work), mask_(*work.inputs.mask) {
  if (!mask_.clip.empty()) {
    source_ = openClip(mask_.clip);
    const std::int64_t last = work.feed.sourceFrame(work.feed.count() - 1);
    if (static_cast<std::int64_t>(source_->info().times.size()) <= last) {
      throw UsageError(fmt::format("the mask clip {} has {} frames, but frame {} is to be painted",
                                   mask_.clip, source_->info().times.size(), last));
    }
    return;
  }
  if (mask_.frames.empty()) throw UsageError("a mask needs a picture or a clip");
  for (const MaskFrame& one : mask_.frames) {
    std::int64_t place = 0;
    while (place < work.feed.count() && work.feed.sourceFrame(place) < one.frame) ++place;
    if (place >= work.feed.count() || work.feed.sourceFrame(place) != one.frame) {
      throw UsageError(fmt::format("the mask's frame {} is not among the chosen frames ({} to {})", one.frame,
                                   work.feed.sourceFrame(0), work.feed.sourceFrame(work.feed.count() - 1)));
    }
    given_[place] = sized(one.mask);
  }
  if (given_.begin()->first > 0) carryBack(given_.begin()->first, given_.begin()->second);
}

Image MaskTrack::sized(const Image& mask) const {
  return clipped(resample(firstChannel(mask), work_.size.width, work_.size.height));
}

void MaskTrack::carryBack(std::int64_t place, const Image& mask) {
  Image later;
  if (work_.feed.at(place, later) != FrameState::read) return;
  MaskFollower follower(later, mask);
  GreyFrame greyLater = greyOf(later);
  const std::int64_t all = place;
  while (--place >= 0) {
    work_.tell("following the mask back", all - place, all);
    Image frame;
    if (work_.feed.at(place, frame) == FrameState::read) {
      GreyFrame grey = greyOf(frame);
      follower.follow(frame, motionBetween(grey, greyLater, place + 1));
      greyLater = std::move(grey);
    }
    // As RGB: the profile that pictures are written with is not one for grey.
    work_.journal.store(kMask, place, rgbOf(follower.mask()));
    backConfidence_[place] = follower.confidence();
  }
}

Image MaskTrack::followed(std::int64_t place, const Image& frame, const std::optional<Motion>& motion) {
  confidence_ = 1;
  if (const auto given = given_.find(place); given != given_.end()) {
    follower_.emplace(frame, given->second);
    return given->second;
  }
  if (place < given_.begin()->first) {
    const auto back = backConfidence_.find(place);
    confidence_ = back == backConfidence_.end() ? 0 : back->second;
    return work_.journal.has(kMask, place) ? firstChannel(work_.journal.load(kMask, place))
                                           : given_.begin()->second;
  }
  if (motion) {
    follower_->follow(frame, *motion);
  } else {
    // Behind a cut nothing is known of the subject.
    follower_.emplace(frame, Image(work_.size.width, work_.size.height, 1));
  }
  confidence_ = motion ? follower_->confidence() : 0;
  return follower_->mask();
}

Image MaskTrack::at(std::int64_t place, const Image& frame, const std::optional<Motion>& motion) {
  Image mask;
  if (source_) {
    source_->seek(work_.feed.sourceFrame(place));
    Image given;
    if (source_->read(given) != FrameState::read)
      throw Error(fmt::format("frame {} of the mask clip {} cannot be read", work_.feed.sourceFrame(place),
                              mask_.clip));
    mask = sized(given);
  } else {
    mask = followed(place, frame, motion);
  }
  if (!mask_.inside) {
    for (float& v : mask.pixels) v = 1 - v;
  }
  return mask;
}

}  // namespace jugendstil
