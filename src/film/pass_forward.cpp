// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <chrono>
#include <map>
#include <new>

#include "base/error.h"
#include "film/fades.h"
#include "film/passes.h"
#include "image/mask.h"
#include "motion/cut.h"
#include "motion/trust.h"

namespace jugendstil {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int kTries = 2;

class Forward {
 public:
  Forward(FilmWork& work, FrameMaker& maker) : work_(work), maker_(maker) {}

  void run() {
    std::int64_t end = work_.feed.count();
    while (end > 0 && records().count(end - 1) != 0) --end;
    for (std::int64_t place = resume(); place < end; ++place) {
      // Behind a frame that was lost there may be others that were not.
      if (const auto done = records().find(place); done != records().end()) {
        takeUp(done->second);
        continue;
      }
      Image frame;
      const FrameState state = work_.feed.at(place, frame);
      work_.tell(maker_.ledBy() != LedBy::none ? "painting" : "grading", place, work_.feed.count());
      FrameRecord record;
      record.frame = place;
      record.source = work_.feed.sourceFrame(place);
      record.shot = shot_;
      if (state == FrameState::read) {
        work(unfaded(frame, work_.fade(place)), record);
      } else {
        record.filled = true;
        record.tries = 0;
      }
      work_.journal.record(record);
    }
  }

 private:
  const std::map<std::int64_t, FrameRecord>& records() const { return work_.journal.records(1); }

  bool read(std::int64_t place, Image& frame) {
    if (work_.feed.at(place, frame) != FrameState::read) return false;
    frame = unfaded(frame, work_.fade(place));
    return true;
  }

  // Takes up what an earlier run left: the shot's colours and the frames that are looked back to. Returns the
  // first frame that is not done.
  std::int64_t resume() {
    work_.kept = records().size();
    for (const auto& [place, record] : records()) work_.retried += record.tries != 1 ? 1 : 0;
    std::int64_t next = 0;
    while (records().count(next) != 0) ++next;
    if (next == 0 || next == work_.feed.count()) return next;
    const std::int64_t shot = records().at(next - 1).shot;
    for (std::int64_t p = std::max<std::int64_t>(0, shot); p < next; ++p) {
      const FrameRecord& record = records().at(p);
      if (p + LeadMaker::kFarthest + 1 < next)
        takeUpShot(record);
      else
        takeUp(record);
    }
    return next;
  }

  void takeUpShot(const FrameRecord& record) {
    if (record.shot != shot_ && record.shot >= 0) {
      shot_ = record.shot;
      loss_ = 0;
      history_.beginShot();
      Image head;
      if (read(shot_, head)) maker_.beginShot(head, shot_);
    }
    if (record.loss > 0) loss_ = record.loss;
  }

  // A frame that is done, for those that look back to it.
  void takeUp(const FrameRecord& record) {
    takeUpShot(record);
    Image frame;
    if (record.filled || !read(record.frame, frame)) return;
    history_.add(record.frame, greyOf(frame));
    before_ = std::move(frame);
  }

  void work(Image frame, FrameRecord& record) {
    const auto begin = Clock::now();
    GreyFrame grey = greyOf(frame);
    const std::optional<Motion> motion = motionInShot(frame, grey);
    if (!motion) beginShot(frame, record.frame);
    record.shot = shot_;
    if (make(frame, grey, motion, record)) {
      history_.add(record.frame, std::move(grey));
      before_ = std::move(frame);
      if (record.loss > 0) loss_ = record.loss;
    } else {
      record.filled = true;
      // The first of a shot has to be a frame that exists: the next one begins it again.
      if (history_.empty()) shot_ = -1;
    }
    record.seconds = std::chrono::duration<double>(Clock::now() - begin).count();
  }

  void beginShot(const Image& frame, std::int64_t place) {
    shot_ = place;
    loss_ = 0;
    history_.beginShot();
    maker_.beginShot(frame, place);
  }

  // To the latest frame, or none where a shot begins.
  std::optional<Motion> motionInShot(const Image& frame, const GreyFrame& grey) const {
    if (history_.empty() || shot_ < 0) return std::nullopt;
    Motion motion = history_.toLatest(grey);
    if (isCut(histogramDistance(before_, frame), coverage(motion.trust))) return std::nullopt;
    return motion;
  }

  bool make(const Image& frame, const GreyFrame& grey, const std::optional<Motion>& motion,
            FrameRecord& record) {
    bool cautious = false;
    for (int attempt = 0; attempt < kTries; ++attempt) {
      record.tries = attempt + 1;
      if (attempt == 1) ++work_.retried;
      MadeFrame made;
      try {
        if (work_.callbacks.attempt) work_.callbacks.attempt(record.source, attempt);
        std::optional<Lead> lead;
        if (motion && maker_.ledBy() != LedBy::none) lead = leadFor(grey, *motion);
        made = maker_.make(frame, lead, cautious, loss_, record);
      } catch (const DiskError&) {
        throw;  // what cannot be read now can be read another day
      } catch (const Error&) {
        // Tried again; a frame must not end a night's work.
        cautious = true;
      } catch (const std::bad_alloc&) {
        // Memory that was short for a moment makes no other film: tried again as it was.
        continue;
      }
      cautious = cautious || made.picture.empty();
      if (made.picture.empty()) continue;
      work_.journal.store(kPainted, record.frame, made.picture);
      keepCanvas(record.frame, made.canvas);
      return true;
    }
    record.loss = 0;
    return false;
  }

  Lead leadFor(const GreyFrame& grey, const Motion& motion) const {
    if (maker_.ledBy() == LedBy::latest)
      return carriedAlong(work_.journal.load(kPainted, motion.before), motion);
    Lead lead =
        history_.lead(grey, before_, motion, [&](std::int64_t p) { return work_.journal.load(kPainted, p); });
    if (work_.journal.has(kCanvas, motion.before))
      lead.canvas = carriedCanvas(work_.journal.load(kCanvas, motion.before), motion.back);
    return lead;
  }

  // The latest frame's is needed, and the one's before it, should this one not come to be recorded.
  void keepCanvas(std::int64_t place, const Image& canvas) {
    if (canvas.empty()) return;
    work_.journal.store(kCanvas, place, canvas);
    if (beforeLatest_ >= 0) work_.journal.drop(kCanvas, beforeLatest_);
    beforeLatest_ = latest_;
    latest_ = place;
  }

  FilmWork& work_;
  FrameMaker& maker_;
  LeadMaker history_;
  std::int64_t latest_ = -1;  // places whose canvas is kept
  std::int64_t beforeLatest_ = -1;
  Image before_;            // the latest frame of the clip
  std::int64_t shot_ = -1;  // place of the shot's first frame; -1 before any
  double loss_ = 0;         // of the latest frame
};

}  // namespace

void passForward(FilmWork& work, FrameMaker& maker) { Forward(work, maker).run(); }

}  // namespace jugendstil
