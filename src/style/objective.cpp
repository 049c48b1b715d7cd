// SPDX-License-Identifier: Apache-2.0
#include "style/objective.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "style/softened.h"

namespace jugendstil {

Objective::Objective(Evaluator& evaluator, std::vector<Style> styles, std::unique_ptr<Content> content,
                     std::size_t contentBand, std::vector<Colour> colours, ObjectiveWeights weights)
    : evaluator_(evaluator),
      styles_(std::move(styles)),
      always_(styles_.size()),
      content_(std::move(content)),
      contentBand_(contentBand),
      colours_(std::move(colours)),
      weights_(std::move(weights)) {
  double sum = std::accumulate(weights_.emphasis.begin(), weights_.emphasis.end(), 0.0);
  if (weights_.emphasis.size() != styles_.size() || !(sum > 0)) {
    throw Error("the objective needs one emphasis for each style band, not all of them 0");
  }
  for (const double e : weights_.emphasis) styleWeights_.push_back(weights_.style * e / sum);
}

void Objective::setMore(std::vector<Style> styles, std::vector<double> weights) {
  styles_.resize(always_);
  styleWeights_.resize(always_);
  for (std::size_t i = 0; i < styles.size(); ++i) {
    styles_.push_back(std::move(styles[i]));
    styleWeights_.push_back(weights_.style * weights[i]);
  }
}

void Objective::exchange(StateExchange& with) {
  for (Style& style : styles_) style.measure->exchange(with);
}

double Objective::heldDistance(const Planes& picture, Planes& gradient) {
  const int width = picture.width / 2;
  const int height = picture.height / 2;
  const double scale = heldWeight_ / static_cast<double>(heldStrength_.size());
  const auto factor = static_cast<float>(2 * scale);
  std::vector<float> d;
  std::vector<float> scratch;
  double sum = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    halve(picture.plane[c], picture.width, picture.height, d);
    for (std::size_t i = 0; i < d.size(); ++i) d[i] -= held_[c][i];
    soften(d, width, height, scratch);
    double plane = 0;
#pragma omp simd reduction(+ : plane)
    for (std::size_t i = 0; i < d.size(); ++i) {
      plane += heldStrength_[i] * d[i] * d[i];
      d[i] *= factor * heldStrength_[i];
    }
    soften(d, width, height, scratch);
    addUnhalved(d, picture.width, 1, gradient.plane[c]);
    sum += plane;
  }
  return scale * sum;
}

void Objective::setContent(std::unique_ptr<Content> content, double weight) {
  content_ = std::move(content);
  weights_.content = weight;
}

void Objective::setLayout(LayoutTerm layout, double weight) {
  layout_ = std::move(layout);
  layoutWeight_ = weight;
}

void Objective::setHeld(const Held& held, double weight) {
  const int width = evaluator_.width();
  const int height = evaluator_.height();
  const std::size_t area = cellCount(width, height);
  if (weight > 0 && (held.opponent.area() != area || held.strength.size() != area)) {
    throw Error(fmt::format("the picture to hold to has {}x{} pixels, the painting {}x{}; they must agree",
                            held.opponent.width, held.opponent.height, width, height));
  }
  heldWeight_ = weight;
  if (weight <= 0) return;
  for (std::size_t c = 0; c < 3; ++c) halve(held.opponent.plane[c], width, height, held_[c]);
  halve(held.strength, width, height, heldStrength_);
}

LossTerms Objective::evaluate(Planes& picture, std::uint64_t step, Planes& gradient) {
  LossTerms terms;
  opponentToRgb(picture, picture);
  evaluator_.forward(picture.plane[0], picture.plane[1], picture.plane[2]);
  for (std::size_t i = 0; i < styles_.size(); ++i) {
    if (styleWeights_[i] <= 0) continue;
    double& term = i < always_ ? terms.style : terms.more;
    term += styleWeights_[i] * styles_[i].measure->value(evaluator_, step);
  }
  if (weights_.content > 0) terms.content = weights_.content * content_->value(evaluator_);
  evaluator_.backward(
      [&](std::size_t band, BandGradient& sink) {
        for (std::size_t i = 0; i < styles_.size(); ++i) {
          if (styles_[i].band == band && styleWeights_[i] > 0)
            styles_[i].measure->addGradient(styleWeights_[i], sink);
        }
        if (band == contentBand_ && weights_.content > 0) content_->addGradient(weights_.content, sink);
      },
      gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  terms.range = rangePenalty(picture, weights_.range, gradient);
  rgbToOpponent(picture, picture);
  rgbToOpponent(gradient, gradient);
  terms.smoothness = smoothness(picture, weights_.smoothLightness, weights_.smoothChroma, gradient);
  for (const Colour& colour : colours_) {
    const double weight = weights_.colour * colour.share;
    if (weight > 0) terms.colour += weight * colour.term->evaluate(picture, weight, step, gradient);
  }
  if (layoutWeight_ > 0) terms.content += layoutWeight_ * layout_->evaluate(picture, layoutWeight_, gradient);
  if (heldWeight_ > 0) terms.held = heldDistance(picture, gradient);
  return terms;
}

}  // namespace jugendstil
