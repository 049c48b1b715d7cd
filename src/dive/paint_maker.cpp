// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "dive/maker.h"
#include "film/steady_painter.h"

namespace jugendstil {
namespace {

// How strongly a frame is held to the one before, 0 to 100: enough that strokes stay where they are, and not
// so much that nothing new grows where they have become too large.
constexpr double kHeld = 25;
// References go over into one another in so many steps, each of which is measured.
constexpr double kMixes = 16;

class DivePainter final : public DiveMaker {
 public:
  DivePainter(const DiveInputs& inputs, const DivePlan& plan, const Image& start)
      : inputs_(inputs), plan_(plan), start_(start), all_(start.width, start.height, 1, 1.0F) {}

  Image whole(std::size_t key, double strength, const Steps& told) override {
    SteadyPainter painter = painterAfter(inputs_.references[key].value);
    painter.beginShot(start_);
    const PaintedFrame painted = painter.paintFirst(start_, {}, inputs_.settings.painting().seed, told);
    return painted.sound ? mixedPictures(start_, painted.picture, strength / 100) : Image();
  }

  Image next(const Image& moved, const DiveFrame& frame, std::int64_t place, double caution,
             const Steps& told) override {
    turnTo(frame.made);
    painter_->setCaution(static_cast<float>(caution));
    Lead lead{moved, all_, all_};
    const std::uint64_t draw = inputs_.settings.painting().seed * 1000000007ULL + place;
    const PaintedFrame painted = painter_->paintNext(moved, {}, lead, false, kNever, draw, told);
    return painted.sound ? mixedPictures(moved, painted.picture, frame.strength / 100) : Image();
  }

 private:
  // A frame takes all its steps: what is to grow needs them.
  static constexpr double kNever = 0;

  SteadyPainter painterAfter(const std::vector<PaintReference>& references) const {
    return {*inputs_.chain,
            references,
            inputs_.settings.painting(),
            {kHeld, stepsOfFrame(inputs_.settings)},
            plan_.worked};
  }

  void turnTo(const KeyPlace& made) {
    const double part = std::round(made.part * kMixes) / kMixes;
    if (painter_ && made.from == now_.from && made.to == now_.to && part == now_.part) return;
    now_ = {made.from, made.to, part};
    std::vector<PaintReference> references;
    const auto add = [&](std::size_t key, double share) {
      if (share <= 0) return;
      double sum = 0;
      for (const PaintReference& r : inputs_.references[key].value) sum += r.share;
      for (const PaintReference& r : inputs_.references[key].value)
        references.push_back({r.image, share * r.share / sum});
    };
    add(made.from, 1 - part);
    add(made.to, part);
    painter_.reset();
    painter_ = std::make_unique<SteadyPainter>(painterAfter(references));
    // Frames have the colours of the painting already.
    PaintBasis basis = paintBasis(start_, references, inputs_.settings.painting());
    basis.recolours = false;
    painter_->beginShot(std::move(basis));
  }

  const DiveInputs& inputs_;
  const DivePlan& plan_;
  const Image& start_;
  Image all_;  // white
  std::unique_ptr<SteadyPainter> painter_;
  KeyPlace now_;
};

}  // namespace

std::unique_ptr<DiveMaker> makeDivePainter(const DiveInputs& inputs, const DivePlan& plan,
                                           const Image& start) {
  return std::make_unique<DivePainter>(inputs, plan, start);
}

}  // namespace jugendstil
