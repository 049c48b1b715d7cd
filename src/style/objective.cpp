#include "style/objective.h"

#include <algorithm>
#include <numeric>

#include "image/error.h"

namespace jugendstil {

Objective::Objective(Evaluator& evaluator, std::vector<Style> styles, std::unique_ptr<Content> content,
                     std::size_t contentBand, std::unique_ptr<ColourTerm> colour, ObjectiveWeights weights)
    : evaluator_(evaluator),
      styles_(std::move(styles)),
      content_(std::move(content)),
      contentBand_(contentBand),
      colour_(std::move(colour)),
      weights_(std::move(weights)),
      rgb_(evaluator.width(), evaluator.height()),
      rgbGradient_(evaluator.width(), evaluator.height()) {
  double sum = std::accumulate(weights_.emphasis.begin(), weights_.emphasis.end(), 0.0);
  if (weights_.emphasis.size() != styles_.size() || !(sum > 0)) {
    throw Error("the objective needs one emphasis for each style band, not all of them 0");
  }
  for (double& e : weights_.emphasis) e /= sum;
}

LossTerms Objective::evaluate(const Planes& opponent, std::uint64_t step, Planes& gradient) {
  LossTerms terms;
  opponentToRgb(opponent, rgb_);
  evaluator_.forward(rgb_.plane[0], rgb_.plane[1], rgb_.plane[2]);
  for (std::size_t i = 0; i < styles_.size(); ++i) {
    if (weights_.emphasis[i] > 0)
      terms.style += weights_.emphasis[i] * styles_[i].measure->value(evaluator_, step);
  }
  if (weights_.content > 0) terms.content = weights_.content * content_->value(evaluator_);
  evaluator_.backward(
      [&](std::size_t band, BandGradient& sink) {
        for (std::size_t i = 0; i < styles_.size(); ++i) {
          if (styles_[i].band == band && weights_.emphasis[i] > 0) {
            styles_[i].measure->addGradient(weights_.emphasis[i], sink);
          }
        }
        if (band == contentBand_ && weights_.content > 0) content_->addGradient(weights_.content, sink);
      },
      rgbGradient_.plane[0], rgbGradient_.plane[1], rgbGradient_.plane[2]);
  terms.range = rangePenalty(rgb_, weights_.range, rgbGradient_);
  rgbToOpponent(rgbGradient_, gradient);
  terms.smoothness = smoothness(opponent, weights_.smoothLightness, weights_.smoothChroma, gradient);
  if (weights_.colour > 0)
    terms.colour = weights_.colour * colour_->evaluate(opponent, weights_.colour, step, gradient);
  return terms;
}

}  // namespace jugendstil
