// SPDX-License-Identifier: Apache-2.0
#include "general_learner.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "base/number.h"
#include "image/picture_file.h"
#include "image/planes.h"
#include "image/resample.h"
#include "learn/judged_piece.h"
#include "learn/net_pass.h"
#include "learn/quick_painting.h"
#include "paint/easel.h"
#include "solver/adam.h"

namespace training {

using namespace jugendstil;

namespace {

constexpr AdamSettings kAdam{0.9F, 0.99F, 1e-3F};
constexpr float kRate = 2e-3F;
constexpr float kLastRate = 0.03F;
// As in src/learn/learner.cpp.
constexpr float kLastLayer = 0.4F;
constexpr int kWarmUp = 100;
// A step follows a gradient of at most this length, or one wild pair undoes a hundred others.
constexpr double kLongest = 4;
// So many colours of each reference; more are slow to sort anew at each step.
constexpr std::size_t kColours = 2048;
constexpr int kMirrored = 2;  // as EXIF orientations are numbered
constexpr float kLeastSpread = 0.05F;

// The mean and the deviation of each number of the manners.
void standards(const std::vector<Reference>& references, std::vector<float>& centre,
               std::vector<float>& spread) {
  const std::size_t numbers = references.front().manner.size();
  for (std::size_t i = 0; i < numbers; ++i) {
    double sum = 0;
    double squares = 0;
    for (const Reference& r : references) {
      sum += r.manner[i];
      squares += double{r.manner[i]} * r.manner[i];
    }
    const auto count = static_cast<double>(references.size());
    const double mean = sum / count;
    centre.push_back(static_cast<float>(mean));
    spread.push_back(
        std::max(kLeastSpread, static_cast<float>(std::sqrt(std::max(0.0, squares / count - mean * mean)))));
  }
  // The likeness, which is even between its bounds.
  centre.back() = static_cast<float>((kLeastTrainedLikeness + kMostTrainedLikeness) / 200);
  spread.back() = static_cast<float>((kMostTrainedLikeness - kLeastTrainedLikeness) / 200);
}

std::vector<float> fewer(const std::vector<float>& colours) {
  const std::size_t rows = colours.size() / 3;
  if (rows <= kColours) return colours;
  std::vector<float> kept;
  for (std::size_t i = 0; i < kColours; ++i) {
    const auto row = colours.begin() + static_cast<std::ptrdiff_t>(3 * (i * rows / kColours));
    kept.insert(kept.end(), row, row + 3);
  }
  return kept;
}

}  // namespace

Reference measured(const Chain& chain, const Stored& picture, const TrainingPlan& plan) {
  Reference reference{picture};
  const Size size{plan.edge, rounded(0.75 * plan.edge)};
  reference.targets =
      measureReferences(chain, {{picture.image(), 1}}, size, 1, MeasureKind::gram, Precision::full);
  reference.targets.colours = fewer(reference.targets.colours);
  reference.manner = mannerOf(reference.targets, 0);
  return reference;
}

struct GeneralLearner::Impl {
  const std::vector<Stored>& photos;
  const std::vector<Reference>& references;
  TrainingPlan plan;
  GeneralPainter general;
  Net net;  // with the normalisations of the present pair
  std::vector<std::size_t> places;
  std::vector<bool> isPlace;
  NetPass pass;
  MannerPass manners;
  Easel easel;
  Adam adam;
  Adam mannerAdam;
  std::vector<float> gradient;
  std::vector<float> mannerGradient;
  int done = 0;

  static GeneralPainter begun(const Chain& chain, const std::vector<Reference>& references,
                              const TrainingPlan& plan) {
    GeneralPainter general{painterNet(plan.seed)};
    general.network = chain.checksum;
    std::vector<float> centre;
    std::vector<float> spread;
    standards(references, centre, spread);
    std::vector<float> first;
    for (const std::size_t place : normalisationPlaces(general.net))
      first.push_back(general.net.parameters[place]);
    general.manners = mannerNet(std::move(centre), std::move(spread), first, plan.seed);
    return general;
  }

  static LevelPlan levelOf(const TrainingPlan& plan) {
    LevelPlan level;
    level.picture = {plan.piece, plan.piece};
    level.canvas = level.picture;
    return level;
  }

  int canvas() const { return plan.piece + 2 * kPieceMargin; }

  Impl(const Chain& chain, const std::vector<Stored>& p, const std::vector<Reference>& r,
       const TrainingPlan& given)
      : photos(p),
        references(r),
        plan(given),
        general(begun(chain, r, given)),
        net(general.net),
        places(normalisationPlaces(net)),
        isPlace(net.parameters.size()),
        pass(net, canvas(), canvas(), NetPass::Use::learning),
        manners(general.manners),
        easel(chain, r.front().targets, levelOf(given), {}),
        adam(net.parameters.size(), kAdam),
        mannerAdam(general.manners.parameters.size(), kAdam),
        gradient(net.parameters.size()),
        mannerGradient(general.manners.parameters.size()) {
    for (const std::size_t place : places) isPlace[place] = true;
  }

  float rate() const {
    const float warm = std::min(1.0F, static_cast<float>(done + 1) / kWarmUp);
    const float part = static_cast<float>(done) / static_cast<float>(std::max(1, plan.steps - 1));
    return kRate * warm * (1 - (1 - kLastRate) * std::min(1.0F, part));
  }

  // One photo after one reference: loss, and the gradients added.
  LossTerms pair(std::mt19937_64& random) {
    const auto below = [&](std::size_t count) { return static_cast<std::size_t>(random() % count); };
    const Reference& reference = references[below(references.size())];
    Image photo = photos[below(photos.size())].image();
    if (random() % 2 == 0) photo = reoriented(photo, kMirrored);
    PaintSettings settings;
    settings.likeness = kLeastTrainedLikeness + (kMostTrainedLikeness - kLeastTrainedLikeness) *
                                                    static_cast<double>(random() % 1001) / 1000;
    const PaintBasis basis = paintBasis(photo, {{reference.picture.image(), 1}}, settings);
    const Image drawing =
        mirrorPad(drawingOf(basis, photo), kPieceMargin, kPieceMargin, kPieceMargin, kPieceMargin);
    const int x = static_cast<int>(below(photo.width - plan.piece + 1));
    const int y = static_cast<int>(below(photo.height - plan.piece + 1));

    std::vector<float> manner = reference.manner;
    manner.back() = static_cast<float>(settings.likeness / 100);
    const std::vector<float>& norms = manners.forward(manner);
    for (std::size_t i = 0; i < places.size(); ++i) net.parameters[places[i]] = norms[i];

    easel.judgeBy({{reference.targets}});
    easel.hold(crop(drawing, x + kPieceMargin, y + kPieceMargin, plan.piece, plan.piece), basis.likeness);
    JudgedPiece judged =
        judgedPiece(pass.forward(centredPlanes(crop(drawing, x, y, canvas(), canvas()))), easel, random());
    const LossTerms& loss = judged.loss;
    // Some references are a hundred times as far as others: each pair counts about alike.
    const float weight = static_cast<float>(1 / (plan.batch * (0.1 + loss.style + loss.content)));
    for (auto& plane : judged.slope.plane) {
      for (float& v : plane) v *= weight;
    }
    std::vector<float> own(gradient.size());
    pass.backward(judged.slope, own);
    double square = 0;
    for (const float g : own) square += double{g} * g;
    const double length = std::sqrt(square);
    if (!std::isfinite(length)) return loss;
    const auto shorter = static_cast<float>(std::min(1.0, kLongest / std::max(length, 1e-9)));
    std::vector<float> ofNorms(places.size());
    for (std::size_t i = 0; i < places.size(); ++i) ofNorms[i] = shorter * own[places[i]];
    manners.backward(ofNorms, mannerGradient);
    for (std::size_t i = 0; i < own.size(); ++i) gradient[i] += shorter * own[i];
    return loss;
  }

  LossTerms step() {
    std::mt19937_64 random(plan.seed * 0x9E3779B97F4A7C15U + static_cast<std::uint64_t>(done));
    std::fill(gradient.begin(), gradient.end(), 0.0F);
    std::fill(mannerGradient.begin(), mannerGradient.end(), 0.0F);
    LossTerms sum;
    for (int i = 0; i < plan.batch; ++i) {
      const LossTerms loss = pair(random);
      sum.style += loss.style / plan.batch;
      sum.content += loss.content / plan.batch;
      sum.colour += loss.colour / plan.batch;
    }
    adam.beginStep();
    // The first layer is the photo's colours. Normalisations follow from the manner.
    for (int layer = 1; layer < static_cast<int>(net.layers.size()); ++layer) {
      const std::size_t first = net.firstParameter(layer);
      const std::size_t count = net.parameterCount(layer);
      if (count == 0 || isPlace[first]) continue;
      adam.move(std::span(net.parameters).subspan(first, count), std::span(gradient).subspan(first, count),
                first, rate() * (net.layers[layer].outputs == 3 ? kLastLayer : 1.0F));
    }
    mannerAdam.beginStep();
    const std::size_t firstLayer = cellCount(general.manners.hidden, general.manners.inputs() + 1);
    const auto move = [&](std::size_t first, std::size_t count) {
      mannerAdam.move(std::span(general.manners.parameters).subspan(first, count),
                      std::span(mannerGradient).subspan(first, count), first, rate());
    };
    move(0, firstLayer);
    move(firstLayer, general.manners.parameters.size() - firstLayer);
    general.net.parameters = net.parameters;
    ++done;
    return sum;
  }
};

GeneralLearner::GeneralLearner(const Chain& chain, const std::vector<Stored>& photos,
                               const std::vector<Reference>& references, const TrainingPlan& plan)
    : impl_(std::make_unique<Impl>(chain, photos, references, plan)) {}
GeneralLearner::~GeneralLearner() = default;

LossTerms GeneralLearner::step() { return impl_->step(); }
int GeneralLearner::stepsDone() const { return impl_->done; }
const GeneralPainter& GeneralLearner::painter() const { return impl_->general; }

void GeneralLearner::exchange(StateExchange& with) {
  with.value(impl_->done);
  with.values(impl_->net.parameters);
  with.values(impl_->general.manners.parameters);
  impl_->adam.exchange(with);
  impl_->mannerAdam.exchange(with);
  impl_->general.net.parameters = impl_->net.parameters;
}

}  // namespace training
