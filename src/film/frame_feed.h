// SPDX-License-Identifier: Apache-2.0
// The chosen frames of a clip at the size they are worked on, by their place among the chosen.
#pragma once

#include <cstdint>
#include <map>
#include <vector>

#include "clip/clip.h"
#include "film/settings.h"
#include "image/resample.h"

namespace jugendstil {

class FrameFeed {
 public:
  // The source must outlive the feed. Throws UsageError where nothing is chosen.
  FrameFeed(FrameSource& source, const FilmSettings& settings);

  // The size to which frames are brought; the clip's own where not called.
  void setSize(Size size);
  Size size() const { return size_; }

  std::int64_t count() const { return std::ssize(chosen_); }
  // Which frame of the clip stands at a place.
  std::int64_t sourceFrame(std::int64_t place) const;
  // When it is shown, in the clip's time base, from the first chosen frame on; `place` may be count() for the
  // end.
  std::int64_t shownAt(std::int64_t place) const;

  // The frame at a place. Going forward reads on; going backward reads a stretch and keeps it, so that each
  // frame is decoded about twice at most.
  FrameState at(std::int64_t place, Image& frame);

 private:
  FrameState load(std::int64_t place, Image& frame);
  void fillBackwards(std::int64_t place);

  FrameSource& source_;
  FilmSettings settings_;
  std::vector<std::int64_t> chosen_;
  Size size_;
  std::int64_t last_ = -1;  // place loaded last
  struct Kept {
    FrameState state;
    Image image;
  };
  std::map<std::int64_t, Kept> kept_;  // the stretch read for going backward
};

}  // namespace jugendstil
