// SPDX-License-Identifier: Apache-2.0
#include "dive/finish.h"

#include <optional>

#include "clip/clip_writer.h"
#include "dive/frames.h"
#include "dive/keel.h"
#include "dive/maker.h"
#include "film/led_brushwork.h"

namespace jugendstil {
namespace {

// Before a loop's first frame so many of its last ones are laid in again, so that it is led as they are.
constexpr std::int64_t kLedIn = 6;
// How much sharper and more coloured a frame must be made follows what it lacks by so much of the way: what
// strays does so over a hundred frames, and what differs from one frame to the next is the painting's own.
constexpr double kFollowed = 0.2;

class DiveFinisher {
 public:
  DiveFinisher(const DiveInputs& inputs, const DivePlan& plan, const Journal& journal,
               const FilmCallbacks& callbacks)
      : inputs_(inputs),
        plan_(plan),
        journal_(journal),
        callbacks_(callbacks),
        start_(startOf(inputs, plan.worked)),
        layer_(diveLayer(inputs, plan.worked)),
        mask_(diveMask(inputs, plan.size)) {
    if (inputs.settings.by == DiveBy::quick) painter_ = makeQuickDiver(inputs, plan, start_);
    const PaintSettings& painting = inputs.settings.painting();
    if (inputs.settings.by != DiveBy::amplify && painting.brushwork) {
      // What is laid in is drawn by the painted frames themselves, which are nowhere quiet.
      PaintPlan painted = plan.paint;
      painted.quiet.clear();
      brush_.emplace(painted, painting.stroke, painting.seed);
    }
  }

  void run() {
    journal_.noteWriting();
    measure();
    const auto writer = createClip(inputs_.output, format(), sound());
    if (plan_.overlap() > 0 && brush_) {
      for (std::int64_t place = std::max<std::int64_t>(0, plan_.film - kLedIn); place < plan_.film; ++place)
        finished(place);
    }
    for (std::int64_t place = 0; place < plan_.film; ++place) {
      if (callbacks_.progress) callbacks_.progress({"writing", place, plan_.film});
      writer->write(finished(place), place);
    }
    writer->finish();
  }

 private:
  // What is painted at once or laid in comes after the keel of the frames, and strays by itself.
  void measure() {
    if (plan_.strongest <= 0 || (!painter_ && !brush_)) return;
    const auto keelOfAll = [&](const Image& picture, std::size_t key) {
      begun_ = false;
      DiveFrame alone;
      alone.made = {key, key, 0};
      return keelOf(laidOver(picture, alone));
    };
    keels_.none = keelOfAll(start_, 0);
    for (std::size_t key = 0; key < plan_.keys; ++key)
      keels_.full.push_back(keelOfAll(rgbOf(journal_.load(kWhole, static_cast<std::int64_t>(key))), key));
    begun_ = false;
  }

  ClipFormat format() const {
    const DiveSettings& settings = inputs_.settings;
    ClipFormat format;
    format.codec = settings.codec == "auto" ? codecForName(inputs_.output) : codecFromWord(settings.codec);
    format.quality = settings.quality;
    format.width = plan_.size.width;
    format.height = plan_.size.height;
    format.rate = plan_.rate;
    format.timeBase = {plan_.rate.under, plan_.rate.over};
    return format;
  }

  std::optional<SoundSource> sound() const {
    if (inputs_.soundFile.empty()) return std::nullopt;
    return SoundSource{inputs_.soundFile, 0, static_cast<double>(plan_.film) / plan_.rate.value()};
  }

  // A loop's first frames come out of its last ones, and go over into themselves. Two pictures that lie over
  // one another are paler than each: they get their keel back.
  Image frameAt(std::int64_t place) const {
    Image own = rgbOf(journal_.load(kPainted, place));
    if (place >= plan_.overlap()) return own;
    Image after = rgbOf(journal_.load(kPainted, plan_.film + place));
    const double part = static_cast<double>(place) / static_cast<double>(plan_.overlap());
    if (part <= 0) return after;
    return onKeel(mixedPictures(after, own, part), between(keelOf(after), keelOf(own), part));
  }

  Image finished(std::int64_t place) {
    const bool fades = place < plan_.overlap();
    const DiveFrame& how = plan_.frames[place];
    if (!last_.empty() && !fades && how.same()) return last_;
    const Image frame = frameAt(place);
    last_ = laidOver(frame, how);
    if (how.strength > 0 && !keels_.full.empty()) {
      follow(liftOf(last_, keelAt(keels_, how, plan_.strongest)));
      last_ = lifted(last_, *lift_);
      if (!mask_.plain()) mask_.combine(sized(frame), last_);
    }
    return last_;
  }

  void follow(const Lift& wanted) {
    if (!lift_) lift_ = wanted;
    lift_->detail += kFollowed * (wanted.detail - lift_->detail);
    lift_->chroma += kFollowed * (wanted.chroma - lift_->chroma);
  }

  // All that is seen of a frame, at the film's size.
  Image laidOver(Image frame, const DiveFrame& how) {
    if (painter_) {
      Image seen = painter_->seen(frame, how);
      layer_.combine(frame, seen);
      frame = std::move(seen);
    }
    if (!brush_) return sized(frame);
    beginKey(how.made);
    Image laid = brush_->laidIn(frame, frame, motionOf(how.move, plan_.worked));
    if (!mask_.plain()) mask_.combine(sized(frame), laid);
    return laid;
  }

  Image sized(const Image& frame) const { return resizePhoto(frame, plan_.size.width, plan_.size.height); }

  // Brush-work of all that a frame is made after, also of what has little share in it.
  void beginKey(const KeyPlace& made) {
    if (begun_ && made.from == now_.from && made.to == now_.to) return;
    begun_ = true;
    now_ = made;
    PaintBasis basis;
    for (const std::size_t key : {made.from, made.to}) {
      if (key == made.to && made.to == made.from && !basis.references.empty()) break;
      const PaintBasis one = basisOf(key);
      basis.references.insert(basis.references.end(), one.references.begin(), one.references.end());
      basis.likeness = one.likeness;
    }
    brush_->beginShot(basis);
  }

  PaintBasis basisOf(std::size_t key) const {
    const bool quick = inputs_.settings.by == DiveBy::quick;
    const auto& references = quick ? inputs_.painters[key].value->references : inputs_.references[key].value;
    return references.empty()
               ? PaintBasis{}
               : paintBasis(rgbOf(journal_.load(kPainted, 0)), references, inputs_.settings.painting());
  }

  const DiveInputs& inputs_;
  const DivePlan& plan_;
  const Journal& journal_;
  const FilmCallbacks& callbacks_;
  Image start_;
  Layer layer_;
  Layer mask_;
  std::unique_ptr<DiveMaker> painter_;  // of what is seen, where that is not what comes out of one another
  std::optional<LedBrushwork> brush_;   // of what is painted
  bool begun_ = false;
  KeyPlace now_;
  std::optional<Lift> lift_;  // of the frame before
  Keels keels_;               // of what is seen; none where the frames' own is all
  Image last_;                // the frame before
};

}  // namespace

void finishDive(const DiveInputs& inputs, const DivePlan& plan, const Journal& journal,
                const FilmCallbacks& callbacks) {
  DiveFinisher(inputs, plan, journal, callbacks).run();
}

}  // namespace jugendstil
