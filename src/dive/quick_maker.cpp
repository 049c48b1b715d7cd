// SPDX-License-Identifier: Apache-2.0
#include "dive/maker.h"
#include "learn/paint_at_once.h"
#include "learn/quick_painting.h"

namespace jugendstil {
namespace {

// One painter, with the moments that it has over the start.
struct Hand {
  QuickPainting painting;
  Image first;  // the start by it
};

class QuickDiver final : public DiveMaker {
 public:
  QuickDiver(const DiveInputs& inputs, const DivePlan& plan, const Image& start) : start_(start) {
    for (const auto& key : inputs.painters) hands_.push_back(handOf(*key.value, inputs, plan));
  }

  Image whole(std::size_t key, double strength, const Steps&) override {
    return mixedPictures(start_, hands_[key].first, strength / 100);
  }

  Image next(const Image& moved, const DiveFrame& frame, std::int64_t, double caution,
             const Steps&) override {
    Image painted = hands_[frame.made.from].painting.paint(moved);
    if (frame.made.part > 0)
      painted = mixedPictures(painted, hands_[frame.made.to].painting.paint(moved), frame.made.part);
    return mixedPictures(moved, painted, caution * frame.strength / 100);
  }

 private:
  Hand handOf(const QuickPainter& painter, const DiveInputs& inputs, const DivePlan& plan) const {
    Hand hand{QuickPainting(painter.net, plan.worked), {}};
    const PaintSettings settings = settingsWith({&painter}, inputs.settings.painting());
    Image drawing = start_;
    if (!painter.references.empty())
      drawing = drawingOf(paintBasis(start_, painter.references, settings), start_);
    hand.first = hand.painting.paint(drawing);
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
