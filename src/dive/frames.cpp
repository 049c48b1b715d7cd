// SPDX-License-Identifier: Apache-2.0
#include "dive/frames.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <new>
#include <optional>

#include "amplify/ascent.h"
#include "base/error.h"
#include "dive/maker.h"
#include "film/frame_feed.h"
#include "image/layer.h"
#include "paint/first_state.h"

namespace jugendstil {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int kTries = 3;
constexpr double kCaution = 0.4;  // of the steps, at each further try
// Ten times the finest detail that there should be, in mean squares, is noise; and what lies so far from the
// frame before (0.24 is as far as any amplified photo goes from its own) is another picture.
constexpr double kNoise = 10;
constexpr double kTooFar = 0.35;
// Finest detail below this, of rounding to 8 bits, is none.
constexpr double kNoDetail = 1e-4;

// The frames of the clip that are mixed in.
class SourceClip {
 public:
  SourceClip(const DiveInputs& inputs, const DivePlan& plan) : rate_(plan.rate.value()) {
    if (inputs.clip.empty()) return;
    source_ = openClip(inputs.clip);
    feed_.emplace(*source_, FilmSettings{});
    feed_->setSize(plan.worked);
  }

  // Mixed in linear light; a frame that cannot be read is left out.
  Image mixedInto(Image picture, std::int64_t place, double part) {
    if (!feed_ || part <= 0) return picture;
    const double own = source_->info().rate.value();
    const auto at = std::llround(static_cast<double>(place) / rate_ * own);
    Image frame;
    if (feed_->at(std::min<std::int64_t>(at, feed_->count() - 1), frame) != FrameState::read) return picture;
    frame = rgbOf(frame);
    Layer({part, BlendMode::normal, std::nullopt}, picture.width, picture.height).combine(picture, frame);
    return frame;
  }

 private:
  double rate_;
  std::unique_ptr<FrameSource> source_;
  std::optional<FrameFeed> feed_;
};

class Diver {
 public:
  Diver(const DiveInputs& inputs, const DivePlan& plan, Journal& journal, const FilmCallbacks& callbacks)
      : inputs_(inputs),
        plan_(plan),
        journal_(journal),
        callbacks_(callbacks),
        start_(startOf(inputs, plan.worked)),
        layer_(diveLayer(inputs, plan.worked)),
        mask_(diveMask(inputs, plan.worked)),
        source_(inputs, plan) {}

  void run() {
    const auto& done = journal_.records(1);
    kept_ = std::ssize(done);
    for (const auto& [place, record] : done) retried_ += record.tries > 1 ? 1 : 0;
    std::int64_t place = 0;
    while (done.count(place) != 0) ++place;
    if (place == frames()) return;
    maker_ = makeDiveMaker(inputs_, plan_, start_);
    makeWholes();
    // What lies behind a frame that was lost came out of it; it is made again, to the same bytes.
    for (; place < frames(); ++place) makeFrame(place);
  }

 private:
  std::int64_t frames() const { return std::ssize(plan_.frames); }

  void tell(const char* stage, std::int64_t frame, std::int64_t of, int step = 0, int steps = 0) const {
    if (callbacks_.progress) callbacks_.progress({stage, frame, of, step, steps, 0, retried_, kept_});
  }

  // The keels of all keys, of the start made in full.
  void makeWholes() {
    keels_.none = keelOf(start_);
    if (plan_.strongest <= 0) return;
    for (std::size_t k = 0; k < plan_.keys; ++k) {
      const auto key = static_cast<std::int64_t>(k);
      const auto all = static_cast<std::int64_t>(plan_.keys);
      if (!journal_.has(kWhole, key)) {
        Image whole = maker_->whole(
            k, plan_.strongest, [&](int step, int steps) { tell("first picture", key, all, step, steps); });
        if (whole.empty())
          throw Error("the start cannot be painted with these settings: the loss is not a number");
        layer_.combine(start_, whole);
        journal_.store(kWhole, key, whole);
      }
      wholes_.push_back(rgbOf(journal_.load(kWhole, key)));
      keels_.full.push_back(keelOf(wholes_.back()));
    }
  }

  void makeFrame(std::int64_t place) {
    const auto begin = Clock::now();
    tell("diving", place, frames());
    FrameRecord record;
    record.frame = record.source = place;
    const DiveFrame& frame = plan_.frames[place];
    Image made;
    if (place == 0) {
      made = firstFrame(frame);
    } else {
      const Image before = rgbOf(journal_.load(kPainted, place - 1));
      made = frame.same() ? before : nextFrame(before, frame, record);
    }
    journal_.store(kPainted, place, made);
    record.seconds = std::chrono::duration<double>(Clock::now() - begin).count();
    journal_.record(record);
  }

  Image firstFrame(const DiveFrame& frame) {
    if (frame.strength <= 0) return start_;
    const Image whole = mixedPictures(wholes_[frame.made.from], wholes_[frame.made.to], frame.made.part);
    return frame.strength == plan_.strongest ? whole
                                             : mixedPictures(start_, whole, frame.strength / plan_.strongest);
  }

  Image nextFrame(const Image& before, const DiveFrame& frame, FrameRecord& record) {
    Image moving = source_.mixedInto(clipped(moved(before, frame.move)), record.frame, frame.source);
    if (frame.strength <= 0) return moving;
    const Keel wanted = keelAt(keels_, frame, plan_.strongest);
    double caution = 1;
    for (record.tries = 1; record.tries <= kTries; ++record.tries) {
      if (record.tries == 2) ++retried_;
      Image made;
      try {
        made = attempt(moving, frame, caution, record);
      } catch (const std::bad_alloc&) {
        continue;  // memory that was short for a moment makes no other dive: tried again as it was
      }
      caution *= kCaution;
      if (made.empty() || !troubleWith(made, moving, wanted).empty()) continue;
      record.loss = distanceOf(made, moving);
      return keptEven(made, moving, wanted);
    }
    record.tries = kTries;
    record.filled = true;
    return keptEven(moving, moving, wanted);
  }

  Image keptEven(const Image& made, const Image& moving, const Keel& wanted) const {
    Image even = onKeel(made, wanted);
    mask_.combine(moving, even);
    return even;
  }

  Image attempt(const Image& moving, const DiveFrame& frame, double caution, FrameRecord& record) {
    try {
      if (callbacks_.attempt) callbacks_.attempt(record.frame, record.tries - 1);
      Image made = maker_->next(moving, frame, record.frame, caution, [&](int step, int steps) {
        tell("diving", record.frame, frames(), step, steps);
      });
      if (!made.empty()) layer_.combine(moving, made);
      return made;
    } catch (const DiskError&) {
      throw;  // what cannot be read now can be read another day
    } catch (const Error&) {
      // A frame must not end a night's work.
    }
    return {};
  }

  const DiveInputs& inputs_;
  const DivePlan& plan_;
  Journal& journal_;
  const FilmCallbacks& callbacks_;
  Image start_;
  Layer layer_;
  Layer mask_;
  SourceClip source_;
  std::unique_ptr<DiveMaker> maker_;
  std::vector<Image> wholes_;  // the start made in full, by key
  Keels keels_;
  std::int64_t retried_ = 0;
  std::int64_t kept_ = 0;
};

}  // namespace

namespace {

Layer layerWith(const DiveInputs& inputs, LayerSettings settings, Size size) {
  if (!inputs.inside.empty()) settings.mask = inputs.inside;
  return {std::move(settings), size.width, size.height};
}

}  // namespace

Image startOf(const DiveInputs& inputs, Size size) {
  if (!inputs.start.empty()) return resizePhoto(rgbOf(inputs.start), size.width, size.height);
  PaintSettings noise = inputs.settings.painting();
  noise.start = inputs.grey ? "grey-noise" : "noise";
  // About the colours of the first references; else about a middle grey, with this spread.
  PaintInputs like;
  if (inputs.settings.by == DiveBy::paint) like.references = inputs.references.front().value;
  if (like.references.empty()) {
    Image grey(2, 1, 3, 0.25F);
    for (std::size_t c = 3; c < 6; ++c) grey.pixels[c] = 0.75F;
    like.references.push_back({std::move(grey), 1});
  }
  return firstState(like, {}, noise, size, size);
}

Layer diveLayer(const DiveInputs& inputs, Size size) {
  return layerWith(inputs, {inputs.settings.painting().opacity, BlendMode::normal, std::nullopt}, size);
}

Layer diveMask(const DiveInputs& inputs, Size size) { return layerWith(inputs, {}, size); }

Keel keelAt(const Keels& keels, const DiveFrame& frame, double strongest) {
  const Keel full = between(keels.full[frame.made.from], keels.full[frame.made.to], frame.made.part);
  return betweenStrengths(keels.none, full, frame.strength / strongest);
}

std::string troubleWith(const Image& made, const Image& moved, const Keel& wanted) {
  for (const float v : made.pixels) {
    if (!std::isfinite(v)) return "not a number";
  }
  const double usual = std::max({wanted.detail[0], finestDetail(moved), kNoDetail});
  if (finestDetail(made) > kNoise * usual) return "noise";
  return distanceOf(made, moved) > kTooFar ? "too far from the frame before" : "";
}

void makeDiveFrames(const DiveInputs& inputs, const DivePlan& plan, Journal& journal,
                    const FilmCallbacks& callbacks) {
  Diver(inputs, plan, journal, callbacks).run();
}

}  // namespace jugendstil
