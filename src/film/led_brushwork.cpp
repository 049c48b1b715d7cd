// SPDX-License-Identifier: Apache-2.0
#include "film/led_brushwork.h"

#include <algorithm>
#include <cmath>

#include "base/number.h"
#include "image/mask.h"
#include "motion/warp.h"
#include "paint/quiet.h"

namespace jugendstil {
namespace {

// Of what is laid in this part comes from the frame before, where motion is trusted. More, and interpolation
// upon interpolation makes it soft; less, and it trembles.
constexpr float kCarried = 0.35F;
// Where motion is trusted less than this, the frame before says nothing.
constexpr float kLeastTrust = 0.1F;

// The motion between frames of another size.
Motion motionAt(const Motion& motion, Size size) {
  Motion out{motion.before, Flow(size.width, size.height), {}, {}};
  const auto scaled = [&](const std::vector<float>& along, double ratio, std::vector<float>& to) {
    Image plane(motion.back.width, motion.back.height, 1);
    plane.pixels = along;
    to = resample(plane, size.width, size.height).pixels;
    for (float& v : to) v *= static_cast<float>(ratio);
  };
  scaled(motion.back.u, 1.0 * size.width / motion.back.width, out.back.u);
  scaled(motion.back.v, 1.0 * size.height / motion.back.height, out.back.v);
  out.trust = resizedMask(motion.trust, size.width, size.height);
  return out;
}

Image differenceOf(Image a, const Image& b) {
  for (std::size_t i = 0; i < a.pixels.size(); ++i) a.pixels[i] -= b.pixels[i];
  return a;
}

void add(Image& to, const Image& more) {
  for (std::size_t i = 0; i < to.pixels.size(); ++i) to.pixels[i] += more.pixels[i];
}

}  // namespace

LedBrushwork::LedBrushwork(PaintPlan plan, double stroke, std::uint64_t seed)
    : plan_(std::move(plan)), stroke_(stroke), seed_(seed) {
  for (std::size_t i = 1; i < plan_.quiet.size(); ++i)
    quiet_.push_back({plan_.quiet[i - 1], plan_.quiet[i], {}, {}});
  Size from = plan_.softened;
  for (const Size to : plan_.enlarging) {
    stages_.push_back({from, to, {}, {}});
    from = to;
  }
}

void LedBrushwork::beginShot(const PaintBasis& basis) {
  likeness_ = basis.likeness;
  for (std::vector<Stage>* stages : {&quiet_, &stages_}) {
    for (Stage& stage : *stages) {
      const double ratio = static_cast<double>(std::max(stage.to.width, stage.to.height)) /
                           std::max(stage.from.width, stage.from.height);
      std::vector<BrushExample> examples = brushExamples(basis.references, stage.to, stroke_, ratio);
      if (stages == &quiet_) avoidRareDetail(examples);
      stage.brush.emplace(std::move(examples));
      stage.before = {};
    }
  }
}

Image LedBrushwork::laidIn(const Image& painted, const Image& drawing, const std::optional<Motion>& motion,
                           const Image& likenessHere) {
  if (stages_.empty()) return painted;
  Image current = resample(painted, plan_.softened.width, plan_.softened.height);
  const Likeness likeness{likeness_, likenessHere};
  const bool leads = !drawing.empty();
  Image quiet;
  if (leads && !quiet_.empty()) {
    quiet = quietPlaces(resizePhoto(drawing, plan_.working.width, plan_.working.height), likeness);
    Image quietly = resample(painted, plan_.quiet.front().width, plan_.quiet.front().height);
    for (Stage& stage : quiet_)
      quietly = goneThrough(stage, quietly, Image(1, 1, 1, kQuietCovered), motion, leads);
    layQuietly(current, quietly, quiet);
  }
  for (std::size_t i = 0; i < stages_.size(); ++i) {
    Stage& stage = stages_[i];
    Image covered = coveredAt(likeness, i);
    if (i == 0 && !quiet.empty()) covered = coveredInQuiet(covered, quiet);
    current = goneThrough(stage, current, covered, motion, leads);
    if (leads)
      addDrawnEdges(current, resizePhoto(drawing, stage.to.width, stage.to.height), stage.from, likeness);
  }
  return clipped(std::move(current));
}

Image LedBrushwork::goneThrough(Stage& stage, const Image& from, const Image& covered,
                                const std::optional<Motion>& motion, bool leads) const {
  std::optional<Motion> scaled;
  if (motion && leads && !stage.before.laid.empty()) scaled = motionAt(*motion, stage.to);
  Trace trace;
  Image out = enlarged(stage, from, covered, scaled, trace);
  if (leads) stage.before = std::move(trace);
  return out;
}

// Each node has the place that the nearest node of the frame before had, moved by what lies between the two.
std::vector<LedBrushwork::ReferencePoint> LedBrushwork::carried(const std::vector<ReferencePoint>& points,
                                                                const Motion& motion) {
  std::vector<ReferencePoint> out;
  if (points.empty()) return out;
  const Flow& back = motion.back;
  const int columns = nodesAlong(back.width);
  const int rows = nodesAlong(back.height);
  out.reserve(points.size());
  for (int j = 0; j < rows; ++j) {
    for (int i = 0; i < columns; ++i) {
      const std::size_t at = back.index(i * kNodeStride, j * kNodeStride);
      const float x = static_cast<float>(i * kNodeStride) + back.u[at];
      const float y = static_cast<float>(j * kNodeStride) + back.v[at];
      const int ni = std::clamp(rounded(x / kNodeStride), 0, columns - 1);
      const int nj = std::clamp(rounded(y / kNodeStride), 0, rows - 1);
      ReferencePoint point = points[cellAt(ni, nj, columns)];
      point.x += x - static_cast<float>(ni * kNodeStride);
      point.y += y - static_cast<float>(nj * kNodeStride);
      out.push_back(point);
    }
  }
  return out;
}

Image LedBrushwork::enlarged(const Stage& stage, const Image& from, const Image& covered,
                             const std::optional<Motion>& motion, Trace& trace) const {
  const Image soft = resample(from, stage.to.width, stage.to.height);
  const std::size_t columns = nodesAlong(soft.width);
  std::vector<ReferencePoint> led;
  if (motion) led = carried(stage.before.points, *motion);
  std::vector<PatchHint> hints(led.size());
  for (std::size_t n = 0; n < led.size(); ++n) {
    const int x = static_cast<int>(n % columns) * kNodeStride;
    const int y = static_cast<int>(n / columns) * kNodeStride;
    const float trust = motion->trust.at(x, y, 0);
    if (trust >= kLeastTrust) hints[n] = {rounded(led[n].x), rounded(led[n].y), led[n].source, trust};
  }
  const std::vector<PatchMatch> found = stage.brush->find(
      soft, seed_, [] {}, hints);
  for (std::size_t n = 0; n < found.size(); ++n) {
    const PatchMatch& match = found[n];
    const bool kept =
        !hints.empty() && match.source == hints[n].source && match.x == hints[n].x && match.y == hints[n].y;
    trace.points.push_back(
        kept ? led[n]
             : ReferencePoint{static_cast<float>(match.x), static_cast<float>(match.y), match.source});
  }
  trace.laid = differenceOf(stage.brush->laidInto(soft, found, covered), soft);
  if (motion) {
    const Image before = warped(stage.before.laid, motion->back);
    for (std::size_t i = 0; i < before.pixels.size(); ++i)
      trace.laid.pixels[i] +=
          kCarried * motion->trust.pixels[i / 3] * (before.pixels[i] - trace.laid.pixels[i]);
  }
  Image out = soft;
  add(out, trace.laid);
  return out;
}

void LedBrushwork::take(const Image& picture) {
  for (std::vector<Stage>* stages : {&quiet_, &stages_}) {
    for (Stage& stage : *stages) {
      const Image own = resample(picture, stage.to.width, stage.to.height);
      const Image small = resample(own, stage.from.width, stage.from.height);
      stage.before = {{}, differenceOf(own, resample(small, stage.to.width, stage.to.height))};
    }
  }
}

}  // namespace jugendstil
