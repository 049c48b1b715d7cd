// SPDX-License-Identifier: Apache-2.0
#include <chrono>

#include "base/error.h"
#include "film/fades.h"
#include "film/passes.h"
#include "motion/trust.h"
#include "motion/warp.h"

namespace jugendstil {
namespace {

using Clock = std::chrono::steady_clock;

// The frame itself and the later one carried to it, in equal parts where that is trusted.
Lead leadBothWays(const Image& own, const Image& later, const Motion& on) {
  const Image carried = clipped(warped(later, on.back));
  const Image trust = softened(on.trust, 1);
  Lead lead{own, Image(own.width, own.height, 1, 1.0F), Image(own.width, own.height, 1, 0.5F)};
  for (std::size_t i = 0; i < trust.pixels.size(); ++i) {
    const float t = trust.pixels[i];
    for (std::size_t c = 0; c < 3; ++c) {
      float& v = lead.picture.pixels[i * 3 + c];
      v += 0.5F * t * (carried.pixels[i * 3 + c] - v);
    }
    lead.strength.pixels[i] = 0.5F + 0.5F * t;
  }
  return lead;
}

class Backward {
 public:
  Backward(FilmWork& work, FrameMaker& maker)
      : work_(work), maker_(maker), count_(work.journal.records(1).size()) {}

  void run() {
    const auto& done = work_.journal.records(2);
    Image later;  // the frame behind the one in work, which leads it
    for (std::int64_t place = count_ - 1; place >= 0; --place) {
      if (done.count(place) != 0) {
        later = {};
        continue;
      }
      if (later.empty() && place + 1 < count_) later = read(place + 1);
      work_.tell("going back", count_ - 1 - place, count_);
      Image frame = read(place);
      make(place, frame, later);
      later = std::move(frame);
    }
  }

 private:
  // The frame at a place, empty where it is damaged.
  Image read(std::int64_t place) {
    Image frame;
    if (work_.feed.at(place, frame) != FrameState::read) return {};
    return unfaded(frame, work_.fade(place));
  }

  void make(std::int64_t place, const Image& frame, const Image& later) {
    const auto begin = Clock::now();
    FrameRecord record = work_.journal.records(1).at(place);
    record.pass = 2;
    const Image own = rgbOf(work_.journal.load(kPainted, place));
    Image picture = own;
    const bool led = !record.filled && !frame.empty() && !later.empty() && record.shot >= 0 &&
                     work_.journal.records(1).at(place + 1).shot == record.shot;
    if (led) {
      takeUpShot(record.shot);
      const Motion on = motionBetween(greyOf(frame), greyOf(later), place + 1);
      try {
        const MadeFrame again = maker_.make(
            frame, leadBothWays(own, work_.journal.load(kAgain, place + 1), on), false, record.loss, record);
        if (!again.picture.empty()) picture = rgbOf(again.picture);
      } catch (const DiskError&) {
        throw;
      } catch (const Error&) {
        // What the first pass made stands.
      }
    }
    work_.journal.store(kAgain, place, picture);
    record.seconds += std::chrono::duration<double>(Clock::now() - begin).count();
    work_.journal.record(record);
  }

  void takeUpShot(std::int64_t shot) {
    if (shot == shot_) return;
    const Image head = read(shot);
    if (!head.empty()) maker_.beginShot(head, shot);
    shot_ = shot;
  }

  FilmWork& work_;
  FrameMaker& maker_;
  std::int64_t count_;
  std::int64_t shot_ = -1;
};

}  // namespace

void passBackward(FilmWork& work, FrameMaker& maker) { Backward(work, maker).run(); }

}  // namespace jugendstil
