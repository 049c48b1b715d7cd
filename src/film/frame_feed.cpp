// SPDX-License-Identifier: Apache-2.0
#include "film/frame_feed.h"

#include <algorithm>
#include <cmath>

#include "base/number.h"
#include "film/selection.h"

namespace jugendstil {
namespace {

// What a stretch of frames for going backward may take.
constexpr std::size_t kStretchBytes = std::size_t{160} << 20;

Image sized(Image&& frame, Size size) {
  if (frame.width == size.width && frame.height == size.height) return std::move(frame);
  return resizePhoto(frame, size.width, size.height);
}

}  // namespace

FrameFeed::FrameFeed(FrameSource& source, const FilmSettings& settings)
    : source_(source),
      settings_(settings),
      chosen_(chosenFrames(source.info(), settings)),
      size_{source.info().width, source.info().height} {}

void FrameFeed::setSize(Size size) {
  size_ = size;
  kept_.clear();
}

std::int64_t FrameFeed::sourceFrame(std::int64_t place) const { return chosen_[place]; }

std::int64_t FrameFeed::shownAt(std::int64_t place) const {
  const ClipInfo& info = source_.info();
  const auto time = [&](std::int64_t frame) { return info.times[frame]; };
  const std::int64_t begin = time(chosen_.front());
  if (place < count()) return time(sourceFrame(place)) - begin;
  const std::size_t next = chosen_.back() + settings_.every;
  if (next < info.times.size()) return info.times[next] - begin;
  const double frame = 1 / info.rate.value() / info.timeBase.value();
  return time(chosen_.back()) - begin + std::max<std::int64_t>(1, std::llround(frame * settings_.every));
}

FrameState FrameFeed::at(std::int64_t place, Image& frame) {
  if (const auto kept = kept_.find(place); kept != kept_.end()) {
    frame = kept->second.image;
    return kept->second.state;
  }
  if (place >= count()) return FrameState::end;
  kept_.clear();
  if (place < last_) {
    fillBackwards(place);
    frame = kept_.at(place).image;
    return kept_.at(place).state;
  }
  return load(place, frame);
}

FrameState FrameFeed::load(std::int64_t place, Image& frame) {
  source_.seek(sourceFrame(place));
  Image image;
  const FrameState state = source_.read(image);
  last_ = place;
  if (state == FrameState::end) return FrameState::missing;  // announced, but not there
  if (state == FrameState::read) frame = sized(std::move(image), size_);
  return state;
}

void FrameFeed::fillBackwards(std::int64_t place) {
  const std::size_t bytes = cellCount(size_.width, size_.height) * 12;
  const auto stretch = static_cast<std::int64_t>(
      std::clamp<std::size_t>(kStretchBytes / std::max<std::size_t>(bytes, 1), 2, 48));
  const std::int64_t begin = std::max<std::int64_t>(0, place - stretch + 1);
  for (std::int64_t p = begin; p <= place; ++p) {
    Kept kept{FrameState::end, {}};
    kept.state = load(p, kept.image);
    kept_.emplace(p, std::move(kept));
  }
}

}  // namespace jugendstil
