// SPDX-License-Identifier: Apache-2.0
#include "dive/maker.h"
#include "learn/paint_at_once.h"
#include "learn/quick_painting.h"

namespace jugendstil {
namespace {

// Of its own painting, at strength 100, so much goes into the frame that the next one comes out of. A net
// paints softly and finds strokes everywhere: fed with its paintings as they are, it has lost every drawing
// within a second.
constexpr double kFedBack = 0.08;

// One painter, with the moments that it has over the start.
struct Hand {
  QuickPainting painting;
  Image drawing;  // the start in the painter's colours
};

// What comes out of one another is the drawing; what is seen is its painting.
class QuickDiver final : public DiveMaker {
 public:
  QuickDiver(const DiveInputs& inputs, const DivePlan& plan, const Image& start) : start_(start) {
    for (const auto& key : inputs.painters) hands_.push_back(handOf(*key.value, inputs, plan));
  }

  Image whole(std::size_t key, double, const Steps&) override { return hands_[key].drawing; }

  Image next(const Image& moved, const DiveFrame& frame, std::int64_t, double caution,
             const Steps&) override {
    return mixedPictures(moved, seen(moved, frame), kFedBack * caution * frame.strength / 100);
  }

  Image seen(const Image& made, const DiveFrame& frame) override {
    const Image painted = hands_[frame.made.from].painting.paint(made);
    return frame.made.part <= 0
               ? painted
               : mixedPictures(painted, hands_[frame.made.to].painting.paint(made), frame.made.part);
  }

 private:
  Hand handOf(const QuickPainter& painter, const DiveInputs& inputs, const DivePlan& plan) const {
    Hand hand{QuickPainting(painter.net, plan.worked), start_};
    const PaintSettings settings = settingsWith({&painter}, inputs.settings.painting());
    if (!painter.references.empty())
      hand.drawing = drawingOf(paintBasis(start_, painter.references, settings), start_);
    hand.painting.paint(hand.drawing);
    hand.painting.holdMoments(hand.painting.moments());
    return hand;
  }

  const Image& start_;
  std::vector<Hand> hands_;
};

}  // namespace

std::unique_ptr<DiveMaker> makeQuickDiver(const DiveInputs& inputs, const DivePlan& plan,
                                          const Image& start) {
  return std::make_unique<QuickDiver>(inputs, plan, start);
}

}  // namespace jugendstil
