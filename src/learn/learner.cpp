// SPDX-License-Identifier: Apache-2.0
#include "learn/learner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "base/error.h"
#include "base/number.h"
#include "image/resample.h"
#include "learn/judged_piece.h"
#include "learn/net_pass.h"
#include "learn/quick_painting.h"
#include "motion/motion.h"
#include "motion/warp.h"
#include "paint/plan.h"
#include "paint/reference.h"

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
constexpr float kLastLayer = 0.4F;
constexpr int kWarmUp = 60;
// Steadiness: a piece is also painted with its canvas up to so many pixels away, with grain of this
// deviation. As far as the margin: what is painted must not hang on where the canvas ends.
constexpr int kShift = kPieceMargin;
constexpr float kGrain = 0.02F;
constexpr double kSteadiness = 4;
// The same of a frame held to the one before it.
constexpr double kCarried = 8;
// So many pixels of all photos together say what their colours are.
constexpr std::size_t kPooled = 200000;
// An example counts in drawing as a photo does at this likeness, and pixel by pixel this much.
constexpr double kShownLikeness = 80;
constexpr double kShown = 40;

// Lessons go on by reflection, so that pieces with their margin, and beside them, lie inside.
constexpr int kPad = kPieceMargin + kShift;

// What is learned on, at the size of painting, each with kPad around.
struct Lesson {
  Image drawing;  // the photo, in the references' colours where the painting has those
  double likeness = 0;
  Image painting{};  // of an example; empty otherwise
  Image before{};    // of a pair: the frame before, drawn alike,
  Motion motion{};   // and how it goes over into this one, without kPad
};

// Where a piece lies in its lesson, kPad not counted, and from where it is looked at again.
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

std::vector<const Image*> picturesOf(const LearnInputs& inputs) {
  std::vector<const Image*> all;
  for (const Image& photo : inputs.photos) all.push_back(&photo);
  for (const FramePair& pair : inputs.pairs) all.push_back(&pair.frame);
  for (const PaintedExample& example : inputs.examples) all.push_back(&example.photo);
  return all;
}

// Pixels of all of them, as many of each, in a row.
Image pooledPixels(const std::vector<const Image*>& pictures) {
  const std::size_t each = std::max<std::size_t>(1, kPooled / pictures.size());
  Image row(0, 1, 3);
  for (const Image* picture : pictures) {
    const std::size_t step = std::max<std::size_t>(1, picture->area() / each);
    for (std::size_t i = step / 2; i < picture->area(); i += step) {
      const float* pixel = picture->pixel(i);
      row.pixels.insert(row.pixels.end(), pixel, pixel + 3);
      ++row.width;
    }
  }
  return row;
}

Image sized(const Image& picture, int longEdge) {
  const Size size = sizeForLongEdge(picture.width, picture.height, longEdge);
  return resizePhoto(picture, size.width, size.height);
}

Image padded(const Image& picture) { return mirrorPad(picture, kPad, kPad, kPad, kPad); }

// The flow of a piece.
Flow pieceOf(const Flow& flow, int x, int y, int side) {
  Flow piece(side, side);
  for (int row = 0; row < side; ++row) {
    std::copy_n(&flow.u[flow.index(x, y + row)], side, &piece.u[piece.index(0, row)]);
    std::copy_n(&flow.v[flow.index(x, y + row)], side, &piece.v[piece.index(0, row)]);
  }
  return piece;
}

// Where it leads to places inside.
bool leadsInside(const Flow& flow, int x, int y) {
  const std::size_t i = flow.index(x, y);
  const float u = static_cast<float>(x) + flow.u[i];
  const float v = static_cast<float>(y) + flow.v[i];
  return u >= 0 && v >= 0 && u <= static_cast<float>(flow.width - 1) &&
         v <= static_cast<float>(flow.height - 1);
}

}  // namespace

struct Learner::Impl {
  const Chain& chain;
  LearnSettings settings;
  Net net;
  AffineColourMap colours = kOwnColours;
  std::vector<Lesson> photos;  // and pairs
  std::vector<Lesson> examples;
  std::unique_ptr<Easel> easel;
  NetPass pass;
  Adam adam;
  std::vector<float> gradient;
  int done = 0;

  Impl(const Chain& c, const LearnSettings& s, int side, const Net& first)
      : chain(c),
        settings(s),
        net(first.layers.empty() ? painterNet(s.painting.seed) : first),
        pass(net, canvasOf(side), canvasOf(side), NetPass::Use::learning),
        adam(net.parameters.size(), kAdam),
        gradient(net.parameters.size()) {}

  static int canvasOf(int side) { return side + 2 * kPieceMargin; }

  Draw drawn() const {
    std::mt19937_64 random(settings.painting.seed * 1000003ULL + static_cast<std::uint64_t>(done));
    const auto below = [&](int n) { return static_cast<int>(random() % static_cast<std::uint64_t>(n)); };
    Draw d;
    const std::vector<Lesson>& lessons = examples.empty() || done % 2 == 0 ? photos : examples;
    d.lesson = &lessons[below(countOf(lessons))];
    d.x = below(d.lesson->drawing.width - 2 * kPad - settings.side + 1);
    d.y = below(d.lesson->drawing.height - 2 * kPad - settings.side + 1);
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

  // A piece of what is seen; `picture` has kPad around.
  Image pieceOf(const Image& picture, const Draw& d) const {
    return crop(picture, d.x + kPad, d.y + kPad, settings.side, settings.side);
  }

  // The same with its margin, from so far beside.
  Planes canvasOf(const Image& picture, const Draw& d, int dx = 0, int dy = 0) const {
    const int side = canvasOf(settings.side);
    return centredPlanes(crop(picture, d.x + kShift + dx, d.y + kShift + dy, side, side));
  }

  void holdToPainting(const Draw& d) {
    const Image piece = pieceOf(d.lesson->painting, d);
    easel->hold(piece, {kShownLikeness});
    easel->holdPixels(piece, Image(settings.side, settings.side, 1, 1.0F), kShown);
  }

  // What the net makes of the same place where its canvas lies beside it and has grain.
  Image paintedBeside(const Image& picture, const Draw& d) {
    const Image painted = imageOfCentred(pass.forward(grained(canvasOf(picture, d, d.dx, d.dy), d.grain)));
    return crop(painted, kPieceMargin - d.dx, kPieceMargin - d.dy, settings.side, settings.side);
  }

  void holdToShifted(const Draw& d) {
    easel->holdPixels(paintedBeside(d.lesson->drawing, d), Image(settings.side, settings.side, 1, 1.0F),
                      kSteadiness);
  }

  // The same of the frame before, carried along.
  void holdToCarried(const Draw& d) {
    const int side = settings.side;
    const Flow flow = jugendstil::pieceOf(d.lesson->motion.back, d.x, d.y, side);
    Image strength = crop(d.lesson->motion.trust, d.x, d.y, side, side);
    for (int y = 0; y < side; ++y) {
      for (int x = 0; x < side; ++x) {
        if (!leadsInside(flow, x, y)) strength.pixels[cellAt(x, y, side)] = 0;
      }
    }
    easel->holdPixels(warped(paintedBeside(d.lesson->before, d), flow), strength, kCarried);
  }

  LossTerms step() {
    const Draw d = drawn();
    if (!d.lesson->painting.empty()) {
      holdToPainting(d);
    } else {
      easel->hold(pieceOf(d.lesson->drawing, d), {d.lesson->likeness});
      if (d.lesson->before.empty())
        holdToShifted(d);
      else
        holdToCarried(d);
    }
    const JudgedPiece judged =
        judgedPiece(pass.forward(canvasOf(d.lesson->drawing, d)), *easel, static_cast<std::uint64_t>(done));
    std::fill(gradient.begin(), gradient.end(), 0.0F);
    pass.backward(judged.slope, gradient);
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
    return judged.loss;
  }
};

int sideOfPieces(const LearnInputs& inputs, const LearnSettings& settings) {
  int least = settings.longEdge;
  for (const Image* picture : picturesOf(inputs)) {
    if (std::min(picture->width, picture->height) < kLeastPhoto) {
      throw Error(fmt::format("a photo to learn on needs at least {} pixels a side, one has {}x{}",
                              kLeastPhoto, picture->width, picture->height));
    }
    const Size size = sizeForLongEdge(picture->width, picture->height, settings.longEdge);
    least = std::min({least, size.width, size.height});
  }
  const int side = std::min(settings.side, least) / kDeepest * kDeepest;
  if (side < kLeastPiece) {
    throw Error(fmt::format("a photo to learn on is so narrow that at {} pixels its short side has {}",
                            settings.longEdge, least));
  }
  return side;
}

Learner::Learner(const Chain& chain, const LearnInputs& inputs, const LearnSettings& settings) {
  if (inputs.photos.empty() && inputs.pairs.empty()) throw UsageError("there are no photos to learn on");
  const std::vector<const Image*> pictures = picturesOf(inputs);
  LearnSettings own = settings;
  own.side = sideOfPieces(inputs, settings);
  impl_ = std::make_unique<Impl>(chain, own, own.side, inputs.first);
  const PaintBasis all = paintBasis(pooledPixels(pictures), inputs.references, settings.painting);
  if (all.recolours) impl_->colours = all.map;
  const auto lessonOf = [&](const Image& photo) {
    const PaintBasis basis = paintBasis(photo, inputs.references, settings.painting);
    return Lesson{padded(drawingOf(basis, photo)), basis.likeness};
  };
  for (const Image& photo : inputs.photos) impl_->photos.push_back(lessonOf(sized(photo, settings.longEdge)));
  for (const FramePair& pair : inputs.pairs) {
    const Image frame = sized(pair.frame, settings.longEdge);
    const Image before = sized(pair.before, settings.longEdge);
    const PaintBasis basis = paintBasis(frame, inputs.references, settings.painting);
    impl_->photos.push_back({padded(drawingOf(basis, frame)),
                             basis.likeness,
                             {},
                             padded(drawingOf(basis, before)),
                             motionBetween(greyOf(frame), greyOf(before), 0)});
  }
  for (const PaintedExample& example : inputs.examples) {
    Lesson lesson = lessonOf(sized(example.photo, settings.longEdge));
    lesson.painting = padded(
        resizePhoto(example.painting, lesson.drawing.width - 2 * kPad, lesson.drawing.height - 2 * kPad));
    impl_->examples.push_back(std::move(lesson));
  }
  LevelPlan plan;
  plan.picture = {own.side, own.side};
  plan.canvas = plan.picture;
  const Image& first = impl_->photos.front().drawing;
  const Size size{first.width - 2 * kPad, first.height - 2 * kPad};
  const ReferenceTargets targets =
      measureReferences(chain, all.references, size, settings.painting.stroke, settings.painting.measure,
                        chosenPrecision(settings.painting.precision));
  impl_->easel = std::make_unique<Easel>(chain, targets, plan, own.painting);
}

std::size_t memoryToLearn(const Chain& chain, const LearnInputs& inputs, const LearnSettings& settings) {
  constexpr std::size_t kProgram = std::size_t{200} << 20;
  constexpr double kPiecePixel = 4800;  // with its margin: the net's values and their gradients
  constexpr double kLessonPixel = 12;   // a drawing; of pairs two, and the motion between
  constexpr double kPairPixel = 2 * 12 + 16;
  double pixels = 0;
  const auto add = [&](const Image& photo, double bytes) {
    const Size size = sizeForLongEdge(photo.width, photo.height, settings.longEdge);
    pixels += bytes * size.width * size.height;
  };
  for (const Image& photo : inputs.photos) add(photo, kLessonPixel);
  for (const FramePair& pair : inputs.pairs) add(pair.frame, kPairPixel);
  for (const PaintedExample& example : inputs.examples) add(example.photo, 2 * kLessonPixel);
  const auto precision = chosenPrecision(settings.painting.precision);
  const int side = sideOfPieces(inputs, settings);
  const int canvas = side + 2 * kPieceMargin;
  return kProgram + Evaluator::memoryFor(chain, side, side, precision) +
         static_cast<std::size_t>(pixels + kPiecePixel * canvas * canvas);
}

Learner::~Learner() = default;

LossTerms Learner::step() { return impl_->step(); }
int Learner::stepsDone() const { return impl_->done; }
const Net& Learner::net() const { return impl_->net; }
const AffineColourMap& Learner::colours() const { return impl_->colours; }

void Learner::exchange(StateExchange& with) {
  with.value(impl_->done);
  with.values(impl_->net.parameters);
  impl_->adam.exchange(with);
  impl_->easel->objective().exchange(with);
}

}  // namespace jugendstil
