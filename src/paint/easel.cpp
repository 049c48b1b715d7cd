// SPDX-License-Identifier: Apache-2.0
#include "paint/easel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include "image/mask.h"
#include "paint/canvas.h"
#include "paint/reference.h"
#include "style/make_measure.h"

namespace jugendstil {
namespace {

// How far one step moves a coefficient at the start of a level, by pyramid level (0 finest) and plane.
constexpr float kBaseRate = 0.02F;
constexpr float kRateFinest = 0.5F;
constexpr float kRateSlope = 0.26F;
// Chroma hardly moves at the finest levels: there it would only make coloured grain, which the eye
// resolves poorly as form and well as noise.
constexpr std::array<float, 3> kChromaRate{0.04F, 0.2F, 0.4F};
constexpr float kLastRate = 0.05F;
// From this pyramid level on (0 finest) a coefficient is of a thing or a stroke rather than of its surface.
constexpr int kCoarse = 1;
constexpr float kFinishingCoarse = 0.1F;
// A step whose loss is this many times the best of the level is taken back.
constexpr double kRunaway = 3.0;
constexpr int kCheckpointEvery = 10;
constexpr int kRedrawEvery = 30;
// A region weighs at least as much as this many positions of a band, or the band is not looked at there.
constexpr double kLeastWeight = 2;
constexpr double kCriticStrength = 0.15;

float schedule(int step, int steps, int warmUp) {
  const float warm = std::min(1.0F, static_cast<float>(step + 1) / static_cast<float>(std::max(1, warmUp)));
  const float fall =
      1.0F - (1.0F - kLastRate) * static_cast<float>(step) / static_cast<float>(std::max(1, steps - 1));
  return warm * fall;
}

// Of a coefficient of this pyramid level, where coarse ones go at another pace.
float coarseness(const Pyramid::Range& range, float coarse) { return range.level >= kCoarse ? coarse : 1.0F; }

float rangeRate(const Pyramid::Range& range) {
  const float size = kRateFinest + kRateSlope * static_cast<float>(range.level);
  const float chroma = kChromaRate[std::min<std::size_t>(range.level, kChromaRate.size() - 1)];
  return kBaseRate * size * (range.plane == 0 ? 1.0F : chroma);
}

// Coefficients in units of Adam's full step, in which they all matter about the same, and back.
std::vector<float> inSteps(std::vector<float> coefficients, const Pyramid& pyramid, float coarse) {
  for (const Pyramid::Range& r : pyramid.ranges()) {
    const float unit = rangeRate(r) * coarseness(r, coarse);
    for (std::size_t i = r.begin; i < r.end; ++i) coefficients[i] /= unit;
  }
  return coefficients;
}

void fromSteps(const std::vector<float>& steps, const Pyramid& pyramid, float coarse,
               std::vector<float>& coefficients) {
  for (const Pyramid::Range& r : pyramid.ranges()) {
    const float unit = rangeRate(r) * coarseness(r, coarse);
    for (std::size_t i = r.begin; i < r.end; ++i) coefficients[i] = steps[i] * unit;
  }
}

// What a band's positions weigh: the mean over the canvas below each.
std::vector<float> weightsAt(const BandShape& shape, const Image& canvas) {
  return resample(canvas, shape.width, shape.height).pixels;
}

std::vector<std::uint32_t> placesUnder(const Image& canvas) {
  std::vector<std::uint32_t> places;
  for (std::size_t i = 0; i < canvas.pixels.size(); ++i) {
    if (canvas.pixels[i] >= 0.5F) places.push_back(static_cast<std::uint32_t>(i));
  }
  return places;
}

// A critic never rests: it learns to see what is left. At full strength it takes the subject along.
double strengthOf(MeasureKind kind) { return kind == MeasureKind::critic ? kCriticStrength : 1.0; }

double sumOf(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += v;
  return sum;
}

}  // namespace

Pace paceOf(const LevelPlan& level) {
  Pace pace;
  if (level.finishing) pace.coarse = kFinishingCoarse;
  return pace;
}

Easel::Easel(const Chain& chain, const std::vector<RegionTargets>& regions, const LevelPlan& plan,
             const PaintSettings& settings)
    : plan_(plan), settings_(settings), contentBand_(chain.bandIndex(chain.contentBands.front())) {
  std::vector<std::size_t> bands;
  for (const BandStatistics& s : regions.front().targets.bands) bands.push_back(s.band());
  if (std::find(bands.begin(), bands.end(), contentBand_) == bands.end()) bands.push_back(contentBand_);
  evaluator_ = std::make_unique<Evaluator>(chain, plan.canvas.width, plan.canvas.height,
                                           chosenPrecision(settings.precision), bands, plan.budget);
  emphasis_ = emphasisFor(chain, settings);
  const double sum = std::accumulate(emphasis_.begin(), emphasis_.end(), 0.0);
  for (double& e : emphasis_) e /= sum;
  judgeBy(regions);
}

void Easel::judgeBy(const std::vector<RegionTargets>& regions) {
  ObjectiveWeights weights;
  weights.content = 0;
  weights.style = strengthOf(settings_.measure);
  std::vector<Objective::Style> styles;
  std::vector<Objective::Colour> colours;
  for (const RegionTargets& region : regions) {
    const Image canvas = region.weights.empty() ? Image() : toCanvas(region.weights, plan_);
    addStyles(region.targets, canvas, region.area, styles, weights.emphasis);
    std::vector<std::uint32_t> places = placesUnder(canvas);
    if (!canvas.empty() && places.empty()) continue;
    colours.push_back(
        {std::make_unique<ColourTerm>(region.targets.colours, settings_.seed, std::move(places)),
         region.area});
  }
  objective_ = std::make_unique<Objective>(*evaluator_, std::move(styles), nullptr, contentBand_,
                                           std::move(colours), weights);
}

void Easel::addStyles(const ReferenceTargets& targets, const Image& canvas, double area,
                      std::vector<Objective::Style>& styles, std::vector<double>& counts) const {
  for (std::size_t b = 0; b < targets.bands.size(); ++b) {
    const BandStatistics& target = targets.bands[b];
    std::vector<float> weights;
    if (!canvas.empty()) {
      weights = weightsAt(evaluator_->shape(target.band()), canvas);
      if (sumOf(weights) < kLeastWeight) continue;  // too small a part for so broad a band
    }
    styles.push_back({target.band(), makeMeasure(target, settings_.seed, std::move(weights))});
    counts.push_back(emphasis_[b] * area);
  }
}

void Easel::hold(const Image& drawing, const Likeness& likeness) {
  const Image canvas = toCanvas(resizePhoto(drawing, plan_.picture.width, plan_.picture.height), plan_);
  Image more = heldMore(likeness, plan_.picture);
  std::vector<float> weights;
  if (!more.empty()) {
    more = toCanvas(more, plan_);
    weights = weightsAt(evaluator_->shape(contentBand_), more);
  }
  objective_->setLayout(LayoutTerm(opponentOf(canvas), more), layoutWeight(likeness.usual));
  const Planes shown = forwardPicture(*evaluator_, canvas);
  objective_->setContent(
      makeContent(settings_.content, *evaluator_, contentBand_, settings_.seed, std::move(weights)),
      contentWeight(likeness.usual, settings_.content));
}

void Easel::holdPixels(const Image& picture, const Image& strength, double weight) {
  objective_->setHeld({opponentOf(toCanvas(picture, plan_)), toCanvas(strength, plan_).pixels}, weight);
}

void Easel::lookAt(const ReferenceTargets& targets, const Image& weights) {
  std::vector<Objective::Style> styles;
  std::vector<double> counts;
  addStyles(targets, toCanvas(weights, plan_), coverage(weights), styles, counts);
  objective_->setMore(std::move(styles), std::move(counts));
}

void Easel::lookAtAllAlike() { objective_->setMore({}, {}); }

void Easel::freePixels() { objective_->setHeld({}, 0); }

LevelRun::LevelRun(Easel& easel, Planes canvas, Pace pace)
    : easel_(easel),
      pyramid_(easel.plan().canvas.width, easel.plan().canvas.height),
      picture_(std::move(canvas)),
      gradient_(picture_.width, picture_.height),
      coefficients_(pyramid_.decompose(picture_)),
      pace_(pace) {
  if (easel.solver() == SolverKind::adam) {
    adam_.emplace(coefficients_.size(), AdamSettings{});
    good_.keep(coefficients_);
  } else {
    slope_.resize(coefficients_.size());
    bestState_ = coefficients_;
    lbfgs_.emplace(inSteps(coefficients_, pyramid_, pace.coarse), LbfgsSettings{});
  }
}

LevelRun::LevelRun(Easel& easel, const Image& first, Pace pace)
    : LevelRun(easel, opponentOf(toCanvas(first, easel.plan())), pace) {}

LevelRun::LevelRun(Easel& easel, const Image& first, const Image& canvas, Pace pace)
    : LevelRun(easel, opponentOf(withMargin(first, canvas, easel.plan())), pace) {}

bool LevelRun::step(int step, int steps, std::uint64_t draw, LossTerms& loss) {
  return lbfgs_ ? stepByLbfgs(step, draw, loss) : stepByAdam(step, steps, draw, loss);
}

// A line search needs a function that stays: what is random is drawn anew only now and then.
bool LevelRun::stepByLbfgs(int step, std::uint64_t draw, LossTerms& loss) {
  if (step % kRedrawEvery == 0) {
    draw_ = draw;
    if (step > 0) lbfgs_->renew();
    best_ = std::numeric_limits<double>::infinity();
  }
  fromSteps(lbfgs_->point(), pyramid_, pace_.coarse, coefficients_);
  pyramid_.reconstruct(coefficients_, picture_);
  loss = easel_.objective().evaluate(picture_, draw_, gradient_);
  pyramid_.pullBack(gradient_, slope_);
  for (const Pyramid::Range& r : pyramid_.ranges()) {
    const float unit = rangeRate(r) * coarseness(r, pace_.coarse);
    for (std::size_t i = r.begin; i < r.end; ++i) slope_[i] *= unit;
  }
  const double total = loss.total();
  lbfgs_->tell(total, slope_);
  if (total < best_) {
    best_ = total;
    bestLoss_ = loss;
    bestState_ = coefficients_;
  }
  loss = bestLoss_;
  return std::isfinite(best_);
}

bool LevelRun::stepByAdam(int step, int steps, std::uint64_t draw, LossTerms& loss) {
  pyramid_.reconstruct(coefficients_, picture_);
  loss = easel_.objective().evaluate(picture_, draw, gradient_);
  const double total = loss.total();
  if (!std::isfinite(total) || total > kRunaway * best_ + 0.1) {
    takeBack();
    return false;
  }
  if (total < best_) best_ = total;
  if (step % kCheckpointEvery == 0) good_.keep(coefficients_);
  adam_->beginStep();
  const float rate = pace_.factor * schedule(step, steps, pace_.warmUp);
  for (int plane = 0; plane < 3; ++plane) {
    pyramid_.pullBackPlane(gradient_, plane, slopes_);
    for (int level = 0; level < Pyramid::kLevels; ++level) {
      const Pyramid::Range& r = pyramid_.range(level, plane);
      const auto& slope = level == 0 ? gradient_.plane[plane] : slopes_[level];
      adam_->move(std::span(coefficients_).subspan(r.begin, r.end - r.begin), slope, r.begin,
                  rate * coarseness(r, pace_.coarse) * rangeRate(r));
    }
  }
  return true;
}

void LevelRun::reconstruct() {
  if (lbfgs_) return pyramid_.reconstruct(bestState_, picture_);
  pyramid_.reconstruct(coefficients_, picture_);
  const bool sound =
      std::all_of(coefficients_.begin(), coefficients_.end(), [](float v) { return std::isfinite(v); });
  if (sound) return;
  good_.restore(coefficients_);
  pyramid_.reconstruct(coefficients_, picture_);
}

Image LevelRun::picture() {
  reconstruct();
  return fromCanvas(picture_, easel_.plan());
}

Image LevelRun::canvas() {
  reconstruct();
  return imageOf(picture_);
}

void LevelRun::exchange(StateExchange& with) {
  with.values(coefficients_);
  if (adam_) adam_->exchange(with);
  if (lbfgs_) lbfgs_->exchange(with);
  good_.exchange(with);
  with.values(bestState_);
  with.value(draw_);
  with.value(bestLoss_);
  with.value(best_);
  with.value(pace_.factor);
  easel_.objective().exchange(with);
}

void LevelRun::takeBack() {
  good_.restore(coefficients_);
  adam_->reset();
  pace_.factor *= 0.5F;
}

}  // namespace jugendstil
