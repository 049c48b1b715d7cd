// SPDX-License-Identifier: Apache-2.0
#include "film/key_leads.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "image/mask.h"
#include "motion/cut.h"
#include "motion/trust.h"
#include "motion/warp.h"

namespace jugendstil {
namespace {

constexpr std::int64_t kReach = 36;  // frames

Image withAlpha(const Image& picture, const Image& known) {
  Image both(picture.width, picture.height, 4);
  for (std::size_t i = 0; i < both.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) both.pixels[i * 4 + c] = picture.pixels[i * 3 + c];
    both.pixels[i * 4 + 3] = known.pixels[i];
  }
  return both;
}

Lead fromAlpha(const Image& both) {
  Lead lead{rgbOf(both), Image(both.width, both.height, 1), {}};
  for (std::size_t i = 0; i < both.area(); ++i) lead.known.pixels[i] = both.pixels[i * 4 + 3];
  lead.strength = lead.known;
  lead.fresh = inverted(lead.known);
  return lead;
}

}  // namespace

KeyLeads::KeyLeads(FilmWork& work) : work_(work) {
  for (const KeyFrame& key : work.inputs.keys) {
    std::int64_t place = 0;
    while (place < work.feed.count() && work.feed.sourceFrame(place) < key.frame) ++place;
    if (place >= work.feed.count() || work.feed.sourceFrame(place) != key.frame) {
      throw UsageError(fmt::format("the keyframe {} is not among the chosen frames ({} to {})", key.frame,
                                   work.feed.sourceFrame(0), work.feed.sourceFrame(work.feed.count() - 1)));
    }
    const double aspect = 1.0 * key.picture.width / key.picture.height;
    const double own = 1.0 * work.size.width / work.size.height;
    if (std::fabs(aspect / own - 1) > 0.02) {
      throw UsageError(
          fmt::format("the picture for keyframe {} is {}x{}; it must have the frames' format, like {}x{}",
                      key.frame, key.picture.width, key.picture.height, work.size.width, work.size.height));
    }
    keys_[place] = resizePhoto(rgbOf(key.picture), work.painted.width, work.painted.height);
  }
  std::int64_t floor = 0;
  for (const auto& [place, picture] : keys_) {
    carryBack(place, std::max(floor, place - kReach));
    floor = place + 1;
  }
}

const Image* KeyLeads::keyAt(std::int64_t place) const {
  const auto key = keys_.find(place);
  return key == keys_.end() ? nullptr : &key->second;
}

Image KeyLeads::wholeKeyAt(std::int64_t place) const {
  for (const KeyFrame& key : work_.inputs.keys) {
    if (key.frame == work_.feed.sourceFrame(place))
      return resizePhoto(rgbOf(key.picture), work_.size.width, work_.size.height);
  }
  return {};
}

void KeyLeads::carryBack(std::int64_t key, std::int64_t floor) {
  // Frames that are painted already need no lead any more.
  const auto& done = work_.journal.records(1);
  std::int64_t place = floor;
  while (place < key && done.count(place) != 0) ++place;
  if (place == key) return;
  Image later;
  if (work_.feed.at(key, later) != FrameState::read) return;
  GreyFrame greyLater = greyOf(later);
  const GreyFrame greyKey = greyLater;
  const Image& picture = keys_.at(key);
  // The motion is added up and the key carried once, so that it comes sharp however far it goes.
  Flow toKey(work_.painted.width, work_.painted.height);
  Image known(work_.painted.width, work_.painted.height, 1, 1.0F);
  for (place = key - 1; place >= floor; --place) {
    work_.tell("leading from keyframes", key - place, key - floor + 1);
    Image frame;
    if (work_.feed.at(place, frame) != FrameState::read) return;
    GreyFrame grey = greyOf(frame);
    const Motion motion = motionBetween(grey, greyLater, place + 1);
    if (isCut(histogramDistance(frame, later), coverage(motion.trust))) return;
    toKey = composed(motion.back, toKey);
    known = bothOf(clipped(warped(known, motion.back)), softened(motion.seen, 1));
    const Image alike = alikeMask(grey, greyKey, toKey);
    work_.journal.store(kLead, place, withAlpha(clipped(warped(picture, toKey)), bothOf(known, alike)));
    greyLater = std::move(grey);
    later = std::move(frame);
  }
}

std::optional<Lead> KeyLeads::joined(const std::optional<Lead>& lead, std::int64_t place,
                                     std::int64_t shot) const {
  const auto key = keys_.upper_bound(place);
  if (key == keys_.end() || !work_.journal.has(kLead, place)) return lead;
  std::int64_t begin = std::max(shot - 1, key->first - kReach - 1);
  if (key != keys_.begin()) begin = std::max(begin, std::prev(key)->first);
  const double t = static_cast<double>(place - begin) / static_cast<double>(key->first - begin);
  Lead leading = fromAlpha(work_.journal.load(kLead, place));
  return lead ? crossFaded(*lead, leading, t * t * (3 - 2 * t)) : std::move(leading);
}

}  // namespace jugendstil
