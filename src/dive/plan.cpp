// SPDX-License-Identifier: Apache-2.0
#include "dive/plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>

#include "amplify/further.h"
#include "base/error.h"
#include "base/number.h"
#include "clip/clip_writer.h"
#include "learn/paint_at_once.h"

namespace jugendstil {
namespace {

constexpr int kUsualEdge = 640;
constexpr double kUsualRate = 24;
constexpr double kUsualSeconds = 4;
constexpr double kMostZoom = 4;
constexpr double kMostShift = 0.5;
constexpr std::int64_t kMostFrames = 1000000;
constexpr double kUsualStrength[] = {50, 100, 60};  // by DiveBy
// A loop's end fades into its beginning for this part of it, and no longer than so many seconds.
constexpr double kFadedPart = 0.25;
constexpr double kFadedSeconds = 1.5;

// Of a painted frame; brush-work that is laid in afterwards replaces the later ones.
constexpr int kSteps = 16;
constexpr int kStepsBelowBrushwork = 10;

double mixed(double a, double b, double part) { return a + part * (b - a); }

// Keys whose frames are known.
template <typename T>
class Course {
 public:
  Course(const char* name, const Keys<T>& keys, double rate, Ease ease)
      : keys_(keys), frames_(framesOf(name, keys, rate)), ease_(ease) {}

  KeyPlace at(std::int64_t frame) const { return placeAmong(frames_, static_cast<double>(frame), ease_); }

  // value(key) of the frame.
  template <typename Value>
  double mean(std::int64_t frame, const Value& value) const {
    const KeyPlace place = at(frame);
    return mixed(value(keys_[place.from].value), value(keys_[place.to].value), place.part);
  }

 private:
  const Keys<T>& keys_;
  std::vector<double> frames_;
  Ease ease_;
};

class Planner {
 public:
  explicit Planner(const DiveInputs& inputs) : inputs_(inputs), settings_(inputs.settings) {
    if (!inputs.clip.empty()) clip_ = openClip(inputs.clip)->info();
  }

  DivePlan plan() {
    plan_.rate = rate();
    perSecond_ = plan_.rate.value();
    plan_.film = length();
    plan_.size = size();
    planMaking();
    listen();
    planFrames();
    return std::move(plan_);
  }

 private:
  Ratio rate() const {
    constexpr int kUnder = 1000;
    if (settings_.rate > 0) return {rounded(settings_.rate * kUnder), kUnder};
    return clip_ ? clip_->rate : Ratio{static_cast<int>(kUsualRate), 1};
  }

  std::int64_t length() const {
    double frames = kUsualSeconds * perSecond_;
    if (settings_.length != "auto")
      frames = frameAt(settings_.length, perSecond_);
    else if (clip_)
      frames = static_cast<double>(clip_->times.size()) * perSecond_ / clip_->rate.value();
    else if (inputs_.sound)
      frames = inputs_.sound->seconds() * perSecond_;
    const auto count = std::llround(frames);
    if (count < 1 || count > kMostFrames)
      throw UsageError(fmt::format("length {} is {} frames here; a dive has 1 to {}", settings_.length, count,
                                   kMostFrames));
    return count;
  }

  Size size() const {
    Size own = inputs_.start.empty() ? Size{16, 9} : Size{inputs_.start.width, inputs_.start.height};
    int edge = settings_.painting().longEdge;
    if (edge == 0)
      edge = inputs_.start.empty() ? kUsualEdge : std::min(kUsualEdge, std::max(own.width, own.height));
    own = sizeForLongEdge(own.width, own.height, edge);
    const ClipCodec codec =
        settings_.codec == "auto" ? codecForName(inputs_.output) : codecFromWord(settings_.codec);
    if (halvesChroma(codec)) own = {own.width - own.width % 2, own.height - own.height % 2};
    return own;
  }

  PaintSettings painting() const {
    PaintSettings painting = settings_.painting();
    painting.longEdge = std::max(plan_.size.width, plan_.size.height);
    return painting;
  }

  void planMaking() {
    plan_.worked = plan_.size;
    switch (settings_.by) {
      case DiveBy::amplify: {
        for (const Key<BandWeights>& key : settings_.bands) {
          AmplifySettings made = settings_.made;
          made.bands = key.value;
          made.painting.longEdge = painting().longEdge;
          AmplifyPlan one = planAmplifying(plan_.size, made, *inputs_.chain);
          if (one.work() > plan_.amplify.work()) plan_.amplify = std::move(one);
        }
        plan_.memory = plan_.amplify.memory;
        plan_.furtherWork = furtherWork(plan_.amplify);
        break;
      }
      case DiveBy::paint:
        if (inputs_.references.empty()) throw UsageError("a dive that is painted needs a reference: add one");
        plan_.paint = planPainting(plan_.size, painting(), *inputs_.chain);
        plan_.furtherWork =
            plan_.paint.levels.back().work() / plan_.paint.levels.back().steps * stepsOfFrame(settings_);
        break;
      case DiveBy::quick:
        if (inputs_.painters.empty()) throw UsageError("a dive by a quick painter needs one: add it");
        for (const auto& key : inputs_.painters) {
          const PainterChoice one{key.value};
          plan_.paint = planWith(one, plan_.size, settingsWith(one, painting()));
        }
        break;
    }
    if (settings_.by != DiveBy::amplify) {
      plan_.worked = plan_.paint.working;
      plan_.memory = plan_.paint.memory;
    }
    // A dozen pictures stand in memory beside what makes them.
    plan_.memory += cellCount(plan_.size.width, plan_.size.height) * 12 * 12;
  }

  void listen() {
    if (settings_.follow.empty()) return;
    if (!inputs_.sound) throw UsageError("nothing is there to follow; name a sound");
    for (const auto& [follower, band] : settings_.follow)
      loud_.emplace_back(follower, loudness(*inputs_.sound, band, perSecond_, plan_.film));
  }

  // How far a setting is out: 1 where it follows nothing.
  double out(FollowingSetting follower, std::int64_t frame) const {
    for (const auto& [who, loud] : loud_) {
      if (who == follower) return loud[frame];
    }
    return 1;
  }

  double aFrame(const Tempo& tempo) const { return tempo.aSecond ? tempo.value / perSecond_ : tempo.value; }
  // As its logarithm, in which zooms add up.
  double aFramesZoom(const Tempo& tempo) const {
    return tempo.aSecond ? std::log(tempo.value) / perSecond_ : std::log(tempo.value);
  }
  static double partOf(const Extent& extent, int side) {
    return extent.part ? extent.value : extent.value / side;
  }

  void planFrames() {
    const auto course = [&](const char* name, const auto& keys) {
      return Course(name, keys, perSecond_, settings_.ease);
    };
    const Keys<double> strengths = settings_.strength.empty()
                                       ? Keys<double>{{"", kUsualStrength[static_cast<int>(settings_.by)]}}
                                       : settings_.strength;
    const auto zoom = course("zoom", settings_.zoom);
    const auto turn = course("turn", settings_.turn);
    const auto shift = course("shift", settings_.shift);
    const auto centre = course("centre", settings_.centre);
    const auto strength = course("strength", strengths);
    const auto source = course("source", settings_.source);
    for (std::int64_t f = 0; f < plan_.film; ++f) {
      DiveFrame frame;
      Move& m = frame.move;
      m.zoom = std::exp(out(FollowingSetting::zoom, f) *
                        zoom.mean(f, [&](const Tempo& t) { return aFramesZoom(t); }));
      m.turn = out(FollowingSetting::turn, f) * turn.mean(f, [&](const Tempo& t) { return aFrame(t); });
      const double far = out(FollowingSetting::shift, f);
      m.shiftX = far * shift.mean(f, [&](const Drift& d) {
        return partOf(d.by.x, plan_.size.width) / (d.aSecond ? perSecond_ : 1);
      });
      m.shiftY = far * shift.mean(f, [&](const Drift& d) {
        return partOf(d.by.y, plan_.size.height) / (d.aSecond ? perSecond_ : 1);
      });
      m.centreX = centre.mean(f, [&](const PicturePlace& p) { return partOf(p.x, plan_.size.width); });
      m.centreY = centre.mean(f, [&](const PicturePlace& p) { return partOf(p.y, plan_.size.height); });
      requireInside(m, f);
      const auto same = [](double value) { return value; };
      frame.strength = out(FollowingSetting::strength, f) * strength.mean(f, same);
      frame.source = clip_ ? out(FollowingSetting::source, f) * source.mean(f, same) / 100 : 0;
      plan_.strongest = std::max(plan_.strongest, frame.strength);
      plan_.frames.push_back(frame);
    }
    planKeys(course);
    if (!settings_.loop) return;
    const auto most = std::llround(kFadedSeconds * perSecond_);
    const auto overlap = std::min(most, std::llround(kFadedPart * static_cast<double>(plan_.film)));
    for (std::int64_t f = 0; f < overlap; ++f) plan_.frames.push_back(plan_.frames[f]);
  }

  template <typename CourseOf>
  void planKeys(const CourseOf& course) {
    const auto take = [&](const char* name, const auto& keys) {
      plan_.keys = keys.size();
      const auto made = course(name, keys);
      for (std::int64_t f = 0; f < plan_.film; ++f) plan_.frames[f].made = made.at(f);
    };
    switch (settings_.by) {
      case DiveBy::amplify:
        return take("band", settings_.bands);
      case DiveBy::paint:
        return take("references", inputs_.references);
      case DiveBy::quick:
        return take("painters", inputs_.painters);
    }
  }

  void requireInside(const Move& m, std::int64_t frame) const {
    const auto outside = [](double x) { return !(x >= 0 && x <= 1); };
    if (outside(m.centreX) || outside(m.centreY))
      throw UsageError(fmt::format("the centre leaves the picture at frame {}: {:.0f},{:.0f} of {}x{}", frame,
                                   m.centreX * plan_.size.width, m.centreY * plan_.size.height,
                                   plan_.size.width, plan_.size.height));
    if (std::abs(m.shiftX) > kMostShift || std::abs(m.shiftY) > kMostShift)
      throw UsageError(
          fmt::format("the shift leaves the picture at frame {}: {:.0f},{:.0f} pixels; at most half "
                      "of it a frame",
                      frame, m.shiftX * plan_.size.width, m.shiftY * plan_.size.height));
    if (!(m.zoom <= kMostZoom && m.zoom >= 1 / kMostZoom))
      throw UsageError(fmt::format("zoom is {:.3g} at frame {}; at most {} a frame, and no less than {}",
                                   m.zoom, frame, kMostZoom, 1 / kMostZoom));
  }

  const DiveInputs& inputs_;
  const DiveSettings& settings_;
  std::optional<ClipInfo> clip_;
  double perSecond_ = kUsualRate;
  std::vector<std::pair<FollowingSetting, std::vector<double>>> loud_;
  DivePlan plan_;
};

}  // namespace

int stepsOfFrame(const DiveSettings& settings) {
  if (settings.frameSteps > 0) return settings.frameSteps;
  return settings.painting().brushwork ? kStepsBelowBrushwork : kSteps;
}

DivePlan planDive(const DiveInputs& inputs) { return Planner(inputs).plan(); }

}  // namespace jugendstil
