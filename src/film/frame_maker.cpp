// SPDX-License-Identifier: Apache-2.0
#include "film/frame_maker.h"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

#include "base/error.h"
#include "film/plan.h"
#include "film/quick_shot.h"
#include "film/shot_looks.h"
#include "film/steady_painter.h"
#include "grade/grader.h"

namespace jugendstil {
namespace {

constexpr float kCarefully = 0.4F;
// A led frame may rest where its loss is about that of the frame before.
constexpr double kEnough = 1.1;

class Painter final : public FrameMaker {
 public:
  Painter(FilmWork& work, const KeyLeads& keys, int pass)
      : work_(work),
        keys_(keys),
        pass_(pass),
        painter_(*work.inputs.chain, referencesOf(work.inputs), work.inputs.paint,
                 {work.inputs.film.steady, ledSteps(work.inputs.film, work.inputs.paint.brushwork)},
                 work.painted, work.inputs.start) {
    painter_.hold(work.inputs.holds);
    if (work.inputs.beginner != nullptr)
      beginner_.emplace(*work.inputs.beginner, work.painted, work.inputs.paint);
  }

  void beginShot(const Image& photo, std::int64_t) override {
    painter_.beginShot(photo);
    if (beginner_) beginner_->begin(photo);
  }
  LedBy ledBy() const override { return LedBy::all; }

  MadeFrame make(const Image& photo, const std::optional<Lead>& lead, bool careful, double lossBefore,
                 FrameRecord& record) override {
    if (const Image* key = keys_.keyAt(record.frame)) return {withRipeness(*key, nullptr), {}};
    painter_.setCaution(careful ? kCarefully : 1.0F);
    const auto draw = work_.inputs.paint.seed * 1000000007ULL +
                      static_cast<std::uint64_t>(pass_) * 500000003ULL + record.frame;
    const std::int64_t count = work_.feed.count();
    const StepProgress progress = [&](int step, int steps) {
      work_.tell(pass_ == 1 ? "painting" : "going back", pass_ == 1 ? record.frame : count - 1 - record.frame,
                 count, step, steps, lossBefore);
    };
    const std::optional<Lead> all = pass_ == 1 ? keys_.joined(lead, record.frame, record.shot) : lead;
    const Image begun = beginner_ ? beginner_->paint(photo) : Image();
    PaintedFrame painted =
        all ? painter_.paintNext(photo, begun, *all, !lead, lossBefore * kEnough, draw, progress)
            : painter_.paintFirst(photo, begun, draw, progress);
    record.loss = painted.loss;
    record.steps += painted.steps;
    if (!painted.sound) return {};
    return {withRipeness(painted.picture, all ? &*all : nullptr), std::move(painted.canvas)};
  }

 private:
  FilmWork& work_;
  const KeyLeads& keys_;
  int pass_;
  SteadyPainter painter_;
  std::optional<QuickShot> beginner_;
};

class ShotGrader final : public FrameMaker {
 public:
  explicit ShotGrader(FilmWork& work) {
    const FilmSettings& film = work.inputs.film;
    if (work.inputs.look) {
      looks_ = {{0, *work.inputs.look}};
    } else {
      looks_ = matchShots(work.feed, work.inputs.gradeReferences, film.match, [&](std::int64_t place) {
        work.tell("looking at the shots", place, work.feed.count());
      });
    }
    for (ShotLook& shot : looks_) shot.look = partOfLook(shot.look, film.amounts);
  }

  void beginShot(const Image&, std::int64_t) override {}
  LedBy ledBy() const override { return LedBy::none; }

  MadeFrame make(const Image& photo, const std::optional<Lead>&, bool, double, FrameRecord& record) override {
    auto shot = looks_.begin();
    while (std::next(shot) != looks_.end() && std::next(shot)->begin <= record.frame) ++shot;
    const Size size = sizeForLongEdge(photo.width, photo.height,
                                      std::min(kMeasuredEdge, std::max(photo.width, photo.height)));
    const Grader grader(shot->look, resizePhoto(photo, size.width, size.height));
    Image out = photo;
    grader.apply(out, 0, out.height);
    return {clipped(std::move(out)), {}};
  }

 private:
  std::vector<ShotLook> looks_;
};

}  // namespace

std::unique_ptr<FrameMaker> makePainter(FilmWork& work, const KeyLeads& keys, int pass) {
  return std::make_unique<Painter>(work, keys, pass);
}

std::unique_ptr<FrameMaker> makeGrader(FilmWork& work) { return std::make_unique<ShotGrader>(work); }

}  // namespace jugendstil
