// SPDX-License-Identifier: Apache-2.0
#include "film/finisher.h"

#include <algorithm>
#include <cmath>

#include "clip/clip_writer.h"
#include "film/fades.h"
#include "film/held.h"
#include "film/led_brushwork.h"
#include "film/plan.h"
#include "image/layer.h"
#include "image/mask.h"
#include "motion/cut.h"
#include "motion/steadiness.h"
#include "motion/trust.h"
#include "paint/finish.h"
#include "paint/lines.h"

namespace jugendstil {
namespace {

class Finisher {
 public:
  Finisher(FilmWork& work, const ClipInfo& clip, const KeyLeads& keys, MaskTrack* mask)
      : work_(work), clip_(clip), keys_(keys), mask_(mask) {
    if (!work.inputs.grade)
      brush_.emplace(framePlan(work.inputs, work.size), work.inputs.paint.stroke, work.inputs.paint.seed);
    if (work.inputs.paint.lines > 0) ink_ = inkFor(work.inputs.references, work.inputs.paint.palette);
    work.journal.noteWriting();
    writer_ = createClip(work.inputs.output, formatOf(), soundOf());
  }

  std::vector<FrameFigures> run() {
    const std::int64_t count = work_.feed.count();
    for (std::int64_t place = 0; place < count; ++place) {
      work_.tell("writing", place, count);
      finishFrame(place);
    }
    writer_->finish();
    return std::move(figures_);
  }

 private:
  bool holds() const { return work_.inputs.film.gaps == Gaps::hold && work_.inputs.film.every > 1; }

  ClipFormat formatOf() const {
    const FilmSettings& film = work_.inputs.film;
    ClipFormat format;
    format.codec = film.codec == "auto" ? codecForName(work_.inputs.output) : codecFromWord(film.codec);
    format.quality = film.quality;
    format.width = work_.size.width;
    format.height = work_.size.height;
    format.bits = clip_.bits;
    format.rate = clip_.rate;
    if (!holds()) format.rate.under *= film.every;
    format.timeBase = clip_.timeBase;
    format.colour = clip_.colour;
    format.firstNumber = clip_.firstNumber + work_.feed.sourceFrame(0);
    return format;
  }

  std::optional<SoundSource> soundOf() const {
    if (!work_.inputs.film.sound || clip_.sound.empty()) return std::nullopt;
    const double from = static_cast<double>(clip_.times[work_.feed.sourceFrame(0)]) * clip_.timeBase.value();
    const double length =
        static_cast<double>(work_.feed.shownAt(work_.feed.count())) * clip_.timeBase.value();
    return SoundSource{work_.inputs.clip, from, from + length};
  }

  const FrameRecord& recordAt(std::int64_t place) const {
    const auto& second = work_.journal.records(2);
    return second.empty() ? work_.journal.records(1).at(place) : second.at(place);
  }

  void finishFrame(std::int64_t place) {
    const FrameRecord& record = recordAt(place);
    FrameFigures figures;
    figures.source = record.source;
    figures.tries = record.tries;
    figures.filled = record.filled;
    figures.loss = record.loss;
    figures.steps = record.steps;
    figures.shotBegins = record.shot == place;
    Image photo;
    const bool there = work_.feed.at(place, photo) == FrameState::read;
    Image painted = work_.journal.load(work_.journal.records(2).empty() ? kPainted : kAgain, place);
    GreyFrame grey = there ? greyOf(photo) : GreyFrame{};
    std::optional<Motion> motion;
    if (there && grey_.width > 0 && !figures.shotBegins) motion = motionBetween(grey, grey_, place - 1);
    painted = rgbOf(painted);
    if (brush_) painted = withBrushwork(painted, photo, place, motion);
    painted = faded(painted, work_.fade(place));
    const Image final = there ? composed(photo, painted, place, motion, figures) : painted;
    if (motion) measure(photo, final, *motion, figures);
    write(final, place);
    figures_.push_back(figures);
    if (!there) return;  // the next frame is compared with the one before the gap
    grey_ = std::move(grey);
    photo_ = std::move(photo);
    final_ = final;
  }

  // `photo` is empty where the clip's frame is damaged.
  Image withBrushwork(const Image& painted, const Image& photo, std::int64_t place,
                      const std::optional<Motion>& motion) {
    beginShotOf(place, photo);
    if (Image key = keys_.wholeKeyAt(place); !key.empty()) {
      brush_->take(key);
      return key;
    }
    if (photo.empty()) return brush_->laidIn(painted, {}, motion);
    const Image frame = unfaded(photo, work_.fade(place));
    return brush_->laidIn(painted, drawingOf(basis_, frame), motion,
                          likenessIn(frame, basis_.likeness, work_.inputs.holds).here);
  }

  // Frames before the first that could be read belong to the shot that it begins.
  void beginShotOf(std::int64_t place, const Image& photo) {
    std::int64_t shot = recordAt(place).shot;
    for (std::int64_t p = place + 1; shot < 0 && p < work_.feed.count(); ++p) shot = recordAt(p).shot;
    if (shot == shot_ || shot < 0) return;
    shot_ = shot;
    Image head = photo;
    if (shot != place) work_.feed.at(shot, head);
    basis_ = shotBasis(work_.inputs, unfaded(head, work_.fade(shot)));
    brush_->beginShot(basis_);
  }

  Image composed(const Image& photo, const Image& painted, std::int64_t place,
                 const std::optional<Motion>& motion, FrameFigures& figures) {
    LayerSettings layer{work_.inputs.paint.opacity, work_.inputs.paint.blend, std::nullopt};
    if (mask_ != nullptr) {
      layer.mask = mask_->at(place, photo, motion);
      figures.maskConfidence = mask_->confidence();
    }
    const Layer over(std::move(layer), photo.width, photo.height);
    const PaintSettings& paint = work_.inputs.paint;
    Image out = work_.inputs.grade ? painted : inPalette(photo, painted, paint.palette);
    // A frame that its painter gave stands as it is.
    if (!work_.inputs.grade && paint.lines > 0 && keys_.wholeKeyAt(place).empty())
      out = withLines(std::move(out), linesOver(photo, {}, {}), paint.lines / 100, ink_);
    if (!over.plain()) over.combine(photo, out);
    return out;
  }

  void measure(const Image& photo, const Image& final, const Motion& motion, FrameFigures& figures) const {
    figures.error = warpingError(final, final_, motion.back, motion.trust);
    figures.sourceError = warpingError(photo, photo_, motion.back, motion.trust);
    figures.trusted = coverage(motion.trust);
  }

  void write(const Image& final, std::int64_t place) {
    const std::int64_t time = work_.feed.shownAt(place);
    writer_->write(final, time);
    if (!holds()) return;
    const std::int64_t begin = work_.feed.sourceFrame(place);
    const std::int64_t end =
        place + 1 < work_.feed.count()
            ? work_.feed.sourceFrame(place + 1)
            : std::min<std::int64_t>(begin + work_.inputs.film.every, clip_.times.size());
    const std::int64_t first = clip_.times[work_.feed.sourceFrame(0)];
    for (std::int64_t f = begin + 1; f < end; ++f) writer_->write(final, clip_.times[f] - first);
  }

  FilmWork& work_;
  const ClipInfo& clip_;
  const KeyLeads& keys_;
  MaskTrack* mask_;
  std::optional<LedBrushwork> brush_;  // of painted films
  PaintBasis basis_;                   // of the shot in work
  std::int64_t shot_ = -1;
  std::array<float, 3> ink_{};  // of lines
  std::unique_ptr<ClipWriter> writer_;
  std::vector<FrameFigures> figures_;
  GreyFrame grey_;  // of the frame before, and its pictures
  Image photo_;
  Image final_;
};

}  // namespace

std::vector<FrameFigures> finishFilm(FilmWork& work, const ClipInfo& clip, const KeyLeads& keys,
                                     MaskTrack* mask) {
  return Finisher(work, clip, keys, mask).run();
}

}  // namespace jugendstil
