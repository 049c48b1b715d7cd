// SPDX-License-Identifier: Apache-2.0
#include "amplify/ascent.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>

#include "paint/canvas.h"
#include "paint/easel.h"
#include "paint/pyramid.h"
#include "solver/adam.h"
#include "style/content.h"
#include "style/surface.h"

namespace jugendstil {
namespace {

// Of the reach, what a coefficient of level i moves by in the first step: kRate * (kFinest + kSlope i).
constexpr float kRate = 0.25F;
constexpr float kFinest = 0.5F;
constexpr float kSlope = 0.26F;
constexpr float kLastRate = 0.1F;
// Of a plain step: how far it goes at most, in root mean squares, and how much more of the finest levels it
// moves, whose slopes are few and steep.
constexpr float kSteepest = 4;
constexpr int kPlainOf = 2;
constexpr float kPlainMore = 1.4F;
// Chroma is as in painting: at the finest levels it would only make coloured grain. The coarsest one is the
// picture's own colours, and a cast over them is no pattern.
constexpr std::array<float, Pyramid::kLevels> kChroma{0.04F, 0.2F, 0.4F, 0.4F, 0.2F};
// Of the mean log energy, 1 for each band's drives together.
constexpr double kSmoothLightness = 1;
constexpr double kSmoothChroma = 4;
constexpr double kRange = 30;

class Ascent {
 public:
  Ascent(const Chain& chain, const std::vector<BandDrive>& drives, const LevelPlan& level, const Image& photo,
         const Image& start, const AscentSettings& settings)
      : drives_(drives),
        level_(level),
        settings_(settings),
        contentBand_(chain.bandIndex(chain.contentBands.front())),
        evaluator_(chain, level.canvas.width, level.canvas.height, settings.precision, bands(), level.budget),
        pyramid_(level.canvas.width, level.canvas.height),
        photo_(pyramid_.decompose(opponentOf(toCanvas(photo, level)))),
        state_(pyramid_.decompose(opponentOf(toCanvas(start, level)))),
        picture_(level.canvas.width, level.canvas.height),
        rgb_(picture_),
        gradient_(picture_),
        adam_(state_.size(), AdamSettings{}),
        ways_(drives.size()) {
    if (settings.likeness <= 0) return;
    const Planes shown = forwardPicture(evaluator_, toCanvas(photo, level));
    content_ = makeContent(ContentKind::features, evaluator_, contentBand_, 1);
  }

  void step(int step) {
    pyramid_.reconstruct(state_, picture_);
    findGradient();
    move(step);
    stayWithinReach();
  }

  Image picture() {
    pyramid_.reconstruct(state_, picture_);
    return fromCanvas(picture_, level_);
  }

 private:
  std::vector<std::size_t> bands() const {
    std::vector<std::size_t> bands;
    if (settings_.likeness > 0) bands.push_back(contentBand_);
    for (const BandDrive& drive : drives_) bands.push_back(drive.band);
    std::sort(bands.begin(), bands.end());
    bands.erase(std::unique(bands.begin(), bands.end()), bands.end());
    return bands;
  }

  void findGradient() {
    opponentToRgb(picture_, rgb_);
    evaluator_.forward(rgb_.plane[0], rgb_.plane[1], rgb_.plane[2]);
    // All that is asked of this pass is asked before the way back: in tiles each later question is a pass.
    if (content_) content_->value(evaluator_);
    for (std::size_t d = 0; d < drives_.size(); ++d) ways_[d] = wayDown(drives_[d]);
    evaluator_.backward([&](std::size_t band, BandGradient& gradient) { fill(band, gradient); },
                        gradient_.plane[0], gradient_.plane[1], gradient_.plane[2]);
    rangePenalty(rgb_, kRange, gradient_);
    rgbToOpponent(gradient_, gradient_);
    smoothness(picture_, kSmoothLightness, kSmoothChroma, gradient_);
  }

  // Of each position's activation; Adam goes down, so signs are turned.
  std::vector<float> wayDown(const BandDrive& drive) {
    std::vector<float> way = wayUp(drive, evaluator_.gram(drive.band));
    const double scale = -drive.weight / evaluator_.shape(drive.band).positions();
    for (float& w : way) w = static_cast<float>(w * scale);
    return way;
  }

  void fill(std::size_t band, BandGradient& gradient) {
    if (content_ && band == contentBand_)
      content_->addGradient(contentWeight(settings_.likeness, ContentKind::features), gradient);
    const std::vector<float> none(evaluator_.shape(band).channels);
    for (std::size_t d = 0; d < drives_.size(); ++d) {
      if (drives_[d].band == band) gradient.addLinear(ways_[d], none, none);
    }
  }

  void move(int step) {
    adam_.beginStep();
    const float done = static_cast<float>(step) / static_cast<float>(std::max(1, level_.steps - 1));
    const float rate = kRate * static_cast<float>(settings_.reach) * (1 - (1 - kLastRate) * done);
    Pyramid::Slopes slopes;
    for (int plane = 0; plane < (settings_.colours ? 3 : 1); ++plane) {
      pyramid_.pullBackPlane(gradient_, plane, slopes);
      for (int i = 0; i < Pyramid::kLevels; ++i) {
        const Pyramid::Range& r = pyramid_.range(i, plane);
        const auto& slope = i == 0 ? gradient_.plane[plane] : slopes[i];
        const auto part = std::span(state_).subspan(r.begin, r.end - r.begin);
        const float by = rate * share(i) * (plane == 0 ? 1 : kChroma[i]);
        if (settings_.plain)
          moveAlong(slope, by, part);
        else
          adam_.move(part, slope, r.begin, by);
      }
    }
  }

  // Down a slope, by the rate in the mean, and where it is steepest by no more than kSteepest times as much.
  static void moveAlong(const std::vector<float>& slope, float rate, std::span<float> part) {
    double sum = 0;
    for (const float s : slope) sum += 1.0 * s * s;
    const double mean = std::sqrt(sum / static_cast<double>(slope.size()));
    if (!(mean > 0)) return;
    const auto scale = static_cast<float>(1 / mean);
    for (std::size_t i = 0; i < part.size(); ++i)
      part[i] -= rate * std::clamp(slope[i] * scale, -kSteepest, kSteepest);
  }

  // Of the rate, by pyramid level: a coefficient of level i is two to the i pixels wide, half a wave.
  float share(int i) const {
    const auto fits = static_cast<float>(std::min(1.0, settings_.pattern / std::ldexp(2.0, i)));
    const float own = settings_.plain && i < kPlainOf ? kPlainMore : 1;
    return fits * own * (kFinest + kSlope * static_cast<float>(i));
  }

  void stayWithinReach() {
    for (std::size_t i = 0; i < state_.size(); ++i) state_[i] -= photo_[i];
    pyramid_.reconstruct(state_, picture_);
    double sum = 0;
    for (const auto& plane : picture_.plane) {
      for (const float v : plane) sum += 1.0 * v * v;
    }
    const double away = std::sqrt(sum / static_cast<double>(picture_.area()));
    const auto part = static_cast<float>(away > settings_.reach ? settings_.reach / away : 1);
    for (std::size_t i = 0; i < state_.size(); ++i) state_[i] = photo_[i] + part * state_[i];
  }

  const std::vector<BandDrive>& drives_;
  LevelPlan level_;
  AscentSettings settings_;
  std::size_t contentBand_;
  Evaluator evaluator_;
  std::unique_ptr<Content> content_;  // of the photo, where it is held
  Pyramid pyramid_;
  std::vector<float> photo_;  // coefficients
  std::vector<float> state_;
  Planes picture_;
  Planes rgb_;
  Planes gradient_;
  Adam adam_;
  std::vector<std::vector<float>> ways_;  // one a drive
};

}  // namespace

double distanceOf(const Image& a, const Image& b) {
  const Planes p = opponentOf(a);
  const Planes q = opponentOf(b);
  double sum = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < p.area(); ++i) {
      const double d = p.plane[c][i] - q.plane[c][i];
      sum += d * d;
    }
  }
  return std::sqrt(sum / static_cast<double>(p.area()));
}

Image strengthened(const Chain& chain, const std::vector<BandDrive>& drives, const LevelPlan& level,
                   const Image& photo, const Image& start, const AscentSettings& settings,
                   const AscentStep& step) {
  Ascent ascent(chain, drives, level, photo, start, settings);
  for (int s = 0; s < level.steps; ++s) {
    step(s, [&] { return ascent.picture(); });
    ascent.step(s);
  }
  return ascent.picture();
}

}  // namespace jugendstil
