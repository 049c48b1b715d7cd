// SPDX-License-Identifier: Apache-2.0
#include "film/shot_looks.h"

#include <algorithm>
#include <optional>

#include "base/error.h"
#include "image/mask.h"
#include "motion/cut.h"
#include "motion/motion.h"
#include "motion/trust.h"

namespace jugendstil {
namespace {

constexpr std::size_t kMostParts = 32;
constexpr int kLooked = 320;  // long edge at which cuts are looked for

// Statistics of evenly spread frames of a shot of unknown length: when there are too many, every second is
// dropped and from then on only half as many taken.
class ShotStatistics {
 public:
  void see(const Image& frame) {
    if (seen_++ % stride_ != 0) return;
    const Size size = sizeForLongEdge(frame.width, frame.height,
                                      std::min(kMeasuredEdge, std::max(frame.width, frame.height)));
    parts_.push_back(gradeStatistics(resizePhoto(frame, size.width, size.height)));
    if (parts_.size() <= kMostParts) return;
    std::vector<GradeStatistics> half;
    for (std::size_t i = 0; i < parts_.size(); i += 2) half.push_back(std::move(parts_[i]));
    parts_ = std::move(half);
    stride_ *= 2;
  }
  bool empty() const { return parts_.empty(); }
  GradeStatistics pooled() const { return pooledStatistics(parts_); }

 private:
  std::vector<GradeStatistics> parts_;
  std::int64_t seen_ = 0;
  std::int64_t stride_ = 4;
};

}  // namespace

std::vector<ShotLook> matchShots(FrameFeed& feed, const std::vector<SharedStatistics>& references,
                                 const MatchSettings& settings,
                                 const std::function<void(std::int64_t)>& progress) {
  std::vector<ShotLook> looks;
  std::optional<ShotStatistics> shot;
  std::int64_t begin = 0;
  Image before;
  GreyFrame greyBefore;
  const auto close = [&] {
    if (shot && !shot->empty()) looks.push_back({begin, matchLook(shot->pooled(), references, settings)});
    shot.reset();
  };
  Image frame;
  for (std::int64_t place = 0;; ++place) {
    const FrameState state = feed.at(place, frame);
    if (state == FrameState::end) break;
    if (progress) progress(place);
    if (state == FrameState::missing) continue;
    const Size size =
        sizeForLongEdge(frame.width, frame.height, std::min(kLooked, std::max(frame.width, frame.height)));
    const Image small = resample(frame, size.width, size.height);
    GreyFrame grey = greyOf(small);
    if (shot) {
      const double trusted = coverage(motionBetween(grey, greyBefore, place).trust);
      if (isCut(histogramDistance(before, small), trusted)) close();
    }
    if (!shot) {
      shot.emplace();
      begin = place;
    }
    shot->see(frame);
    before = small;
    greyBefore = std::move(grey);
  }
  close();
  if (looks.empty()) throw Error("none of the chosen frames can be read");
  return looks;
}

}  // namespace jugendstil
