// SPDX-License-Identifier: Apache-2.0
#include "learn/learner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "base/error.h"
#include "base/number.h"
#include "image/planes.h"
#include "image/resample.h"
#include "learn/net_pass.h"
#include "learn/quick_painting.h"
#include "paint/plan.h"
#include "paint/reference.h"
#include "style/surface.h"

namespace jugendstil {
namespace {

constexpr int kLeastPhoto = 64;
constexpr int kLeastPiece = 48;
constexpr int kDeepest = 16;  // pieces are whole positions of the feature network's deepest band
// Of Adam, whose floor here is for weights, not for pictures.
constexpr AdamSettings kAdam{0.9F, 0.99F, 1e-3F};
constexpr float kRate = 2e-3F;
constexpr float kLastRate = 0.05F;
// What is added to the photo follows the last layer's weights at once; at the others' rate it runs away.
constexpr float kLastLayer = 0.1F;
constexpr int kWarmUp = 60;
// Steadiness: a piece is also looked at from up to so many pixels away, with grain of this deviation.
constexpr int kShift = 4;
constexpr float kGrain = 0.02F;
constexpr double kSteadiness = 4;
// An example counts in drawing as a photo does at this likeness, and pixel by pixel this much.
constexpr double kShownLikeness = 80;
constexpr double kShown = 40;
// Chroma is smoothed more than in paintings that are optimised, which move its finest part the least.
constexpr double kCalmChroma = 20;

// What is learned on, at the size of painting.
struct Lesson {
  Image drawing;   // the photo, in the references' colours where the painting has those
  Image painting;  // of an example; empty otherwise
  double likeness = 0;
};

// Where a piece lies, and from where it is looked at again.
struct Draw {
  const Lesson* lesson = nullptr;
  int x = 0;
  int y = 0;
  int dx = 0;
  int dy = 0;
  std::uint64_t grain = 0;
};

Planes grained(Planes planes, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  for (auto& plane : planes.plane) {
    for (float& v : plane) {
      // Of four even numbers, whose deviation together is the square root of a third.
      float sum = -2;
      for (int i = 0; i < 4; ++i) sum += static_cast<float>(random() >> 40) * 0x1p-24F;
      v += kGrain * 1.732F * sum;
    }
  }
  return planes;
}

// Of the pieces; throws where they would be too small.
int sideFor(const std::vector<Image>& pictures, const LearnSettings& settings) {
  int least = settings.longEdge;
  for (const Image& picture : pictures) {
    if (std::min(picture.width, picture.height) < kLeastPhoto) {
      throw Error(fmt::format("a photo to learn on needs at least {} pixels a side, one has {}x{}",
                              kLeastPhoto, picture.width, picture.height));
    }
    const Size size = sizeForLongEdge(picture.width, picture.height, settings.longEdge);
    least = std::min({least, size.width, size.height});
  }
  const int side = std::min(settings.side, least - 2 * kShift) / kDeepest * kDeepest;
  if (side < kLeastPiece) {
    throw Error(fmt::format("a photo to learn on is so narrow that at {} pixels its short side has {}",
                            settings.longEdge, least));
  }
  return side;
}

}  // namespace

struct Learner::Impl {
  const Chain& chain;
  LearnSettings settings;
  Net net;
  std::vector<Lesson> photos;
  std::vector<Lesson> examples;
  std::unique_ptr<Easel> easel;
  NetPass pass;
  Adam adam;
  std::vector<float> gradient;
  int done = 0;

  Impl(const Chain& c, const LearnSettings& s, int side)
      : chain(c),
        settings(s),
        net(painterNet(s.painting.seed)),
        pass(net, side, side, NetPass::Use::learning),
        adam(net.parameters.size(), kAdam),
        gradient(net.parameters.size()) {}

  Draw drawn() const {
    std::mt19937_64 random(settings.painting.seed * 1000003ULL + static_cast<std::uint64_t>(done));
    const auto below = [&](int n) { return static_cast<int>(random() % static_cast<std::uint64_t>(n)); };
    Draw d;
    const std::vector<Lesson>& lessons = examples.empty() || done % 2 == 0 ? photos : examples;
    d.lesson = &lessons[below(countOf(lessons))];
    d.x = kShift + below(d.lesson->drawing.width - settings.side - 2 * kShift + 1);
    d.y = kShift + below(d.lesson->drawing.height - settings.side - 2 * kShift + 1);
    d.dx = below(2 * kShift + 1) - kShift;
    d.dy = below(2 * kShift + 1) - kShift;
    d.grain = random();
    return d;
  }

  float rate() const {
    const float warm = std::min(1.0F, static_cast<float>(done + 1) / kWarmUp);
    const float part = static_cast<float>(done) / static_cast<float>(std::max(1, settings.steps - 1));
    return kRate * warm * (1 - (1 - kLastRate) * std::min(1.0F, part));
  }

  Image pieceOf(const Image& picture, int x, int y) const {
    return crop(picture, x, y, settings.side, settings.side);
  }

  void holdToPainting(const Draw& d) {
    const Image piece = pieceOf(d.lesson->painting, d.x, d.y);
    Image all(settings.side, settings.side, 1);
    std::fill(all.pixels.begin(), all.pixels.end(), 1.0F);
    easel->hold(piece, kShownLikeness);
    easel->holdPixels(piece, all, kShown);
  }

  // What the net makes of the same place seen from beside it, brought back to where it is.
  void holdToShifted(const Draw& d) {
    const int side = settings.side;
    const Image piece = pieceOf(d.lesson->drawing, d.x + d.dx, d.y + d.dy);
    const Image shifted = imageOfCentred(pass.forward(grained(centredPlanes(piece), d.grain)));
    Image back(side, side);
    Image strength(side, side, 1);
    for (int y = 0; y < side; ++y) {
      for (int x = 0; x < side; ++x) {
        const int u = x - d.dx;
        const int v = y - d.dy;
        if (u < 0 || v < 0 || u >= side || v >= side) continue;
        std::copy_n(shifted.pixel(cellAt(u, v, side)), 3, back.pixel(cellAt(x, y, side)));
        strength.pixels[cellAt(x, y, side)] = 1;
      }
    }
    easel->holdPixels(back, strength, kSteadiness);
  }

  LossTerms step() {
    const Draw d = drawn();
    const int side = settings.side;
    const Image drawing = pieceOf(d.lesson->drawing, d.x, d.y);
    if (d.lesson->painting.empty()) {
      easel->hold(drawing, d.lesson->likeness);
      holdToShifted(d);
    } else {
      holdToPainting(d);
    }
    Planes painting = pass.forward(centredPlanes(drawing));
    for (auto& plane : painting.plane) {
      for (float& v : plane) v += kMiddle;
    }
    rgbToOpponent(painting, painting);
    Planes slope(side, side);
    const LossTerms loss = easel->objective().evaluate(painting, static_cast<std::uint64_t>(done), slope);
    smoothness(painting, 0, kCalmChroma, slope);
    // The change of axes is a rotation: gradients turn as values do.
    opponentToRgb(slope, slope);
    std::fill(gradient.begin(), gradient.end(), 0.0F);
    pass.backward(slope, gradient);
    adam.beginStep();
    // The first layer is the photo's colours, and is not learned.
    for (int layer = 1; layer < static_cast<int>(net.layers.size()); ++layer) {
      const std::size_t first = net.firstParameter(layer);
      const std::size_t count = net.parameterCount(layer);
      if (count == 0) continue;
      adam.move(std::span(net.parameters).subspan(first, count), std::span(gradient).subspan(first, count),
                first, rate() * (net.layers[layer].outputs == 3 ? kLastLayer : 1.0F));
    }
    ++done;
    return loss;
  }
};

Learner::Learner(const Chain& chain, const LearnInputs& inputs, const LearnSettings& settings) {
  if (inputs.photos.empty()) throw UsageError("there are no photos to learn on");
  std::vector<Image> pictures = inputs.photos;
  for (const PaintedExample& example : inputs.examples) pictures.push_back(example.photo);
  LearnSettings own = settings;
  own.side = sideFor(pictures, settings);
  impl_ = std::make_unique<Impl>(chain, own, own.side);
  ReferenceTargets targets;
  for (std::size_t i = 0; i < pictures.size(); ++i) {
    const Size size = sizeForLongEdge(pictures[i].width, pictures[i].height, settings.longEdge);
    const Image resized = resizePhoto(pictures[i], size.width, size.height);
    const PaintBasis basis = paintBasis(resized, inputs.references, settings.painting);
    if (targets.bands.empty()) {
      targets = measureReferences(chain, basis.references, size, settings.painting.stroke,
                                  settings.painting.measure, chosenPrecision(settings.painting.precision));
    }
    Lesson lesson{drawingOf(basis, resized), {}, basis.likeness};
    if (i < inputs.photos.size()) {
      impl_->photos.push_back(std::move(lesson));
    } else {
      lesson.painting =
          resizePhoto(inputs.examples[i - inputs.photos.size()].painting, size.width, size.height);
      impl_->examples.push_back(std::move(lesson));
    }
  }
  LevelPlan plan;
  plan.picture = {own.side, own.side};
  plan.canvas = plan.picture;
  impl_->easel = std::make_unique<Easel>(chain, targets, plan, own.painting);
}

Learner::~Learner() = default;

LossTerms Learner::step() { return impl_->step(); }
int Learner::stepsDone() const { return impl_->done; }
const Net& Learner::net() const { return impl_->net; }

void Learner::exchange(StateExchange& with) {
  with.value(impl_->done);
  with.values(impl_->net.parameters);
  impl_->adam.exchange(with);
  impl_->easel->objective().exchange(with);
}

}  // namespace jugendstil
