#include "paint/painter.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "grade/recolour.h"
#include "image/error.h"
#include "paint/easel.h"

namespace jugendstil {
namespace {

// Steps taken back before a level that never had a good one is given up.
constexpr int kMostRecoveries = 6;
// A bleaching reference leaves the drawing little to show itself by, so it is held harder.
constexpr double kBleachedLikeness = 26;

ColourStatistics pooledStatistics(const std::vector<PaintReference>& references) {
  ColourStatistics all = colourStatistics(references.front().image);
  all.weight = references.front().share;
  for (std::size_t i = 1; i < references.size(); ++i) {
    ColourStatistics next = colourStatistics(references[i].image);
    next.weight = references[i].share;
    all = pooled(all, next);
  }
  return all;
}

Image clipped(Image image) {
  for (float& v : image.pixels) v = std::clamp(v, 0.0F, 1.0F);
  return image;
}

// Mean absolute difference of horizontal neighbours.
double detail(const std::vector<float>& plane, int width) {
  double sum = 0;
  for (std::size_t i = 1; i < plane.size(); ++i) {
    if (i % static_cast<std::size_t>(width) != 0)
      sum += std::fabs(static_cast<double>(plane[i] - plane[i - 1]));
  }
  return sum;
}

// How much of the photo's detail the new colours lost, 0 (a quarter or less) to 1 (half or more): a reference
// that is nearly all paper bleaches the photo until nothing is left to hold to.
double bleaching(const Image& photo, const Image& recolouredPhoto) {
  constexpr double kEnough = 0.75;
  constexpr double kNothing = 0.5;
  const double own = detail(opponentOf(photo).plane[0], photo.width);
  if (own <= 1e-3) return 0;  // one colour: nothing to lose
  const double kept = detail(opponentOf(recolouredPhoto).plane[0], photo.width) / own;
  return std::clamp((kEnough - kept) / (kEnough - kNothing), 0.0, 1.0);
}

Image withLightnessOf(const Image& photo, const Image& recolouredPhoto, float part) {
  const Planes own = opponentOf(photo);
  Planes planes = opponentOf(recolouredPhoto);
  for (std::size_t i = 0; i < planes.area(); ++i)
    planes.plane[0][i] += part * (own.plane[0][i] - planes.plane[0][i]);
  return clipped(imageOf(planes));
}

// The largest middle part of the given aspect ratio: a picture of another format is cut, never stretched.
Image croppedToAspect(const Image& image, Size aspect) {
  const double ratio = static_cast<double>(aspect.width) / aspect.height;
  const int w = std::clamp(static_cast<int>(std::lround(image.height * ratio)), 1, image.width);
  const int h = std::clamp(static_cast<int>(std::lround(image.width / ratio)), 1, image.height);
  return crop(image, (image.width - w) / 2, (image.height - h) / 2, w, h);
}

// Display values as they stand: a painting in progress is not a photograph, and cubic enlargement keeps
// its edges.
Image enlarged(const Image& image, Size to) { return resample(image, to.width, to.height); }

}  // namespace

PaintResult paint(const Chain& chain, const Image& photoIn, const std::vector<PaintReference>& referencesIn,
                  const Image* start, const PaintSettings& asked, const PaintCallbacks& callbacks) {
  PaintSettings settings = asked;
  if (referencesIn.empty()) throw UsageError("painting needs at least one reference");
  const Image photo = rgbOf(photoIn);
  const PaintPlan plan = planPainting({photo.width, photo.height}, settings, chain);
  std::vector<PaintReference> references;
  for (const PaintReference& r : referencesIn)
    references.push_back({trimmed(rgbOf(r.image), settings.trim), r.share});

  const ColourStatistics photoColours = colourStatistics(photo);
  const ColourStatistics referenceColours = pooledStatistics(references);
  Image first = photo;
  if (settings.palette == Palette::photo) {
    const AffineColourMap toPhoto = mongeKantorovich(referenceColours, photoColours);
    for (PaintReference& r : references) r.image = clipped(recoloured(r.image, toPhoto));
  } else {
    first = clipped(recoloured(photo, mongeKantorovich(photoColours, referenceColours)));
    const double bleached = bleaching(photo, first);
    if (bleached > 0) first = withLightnessOf(photo, first, static_cast<float>(bleached));
    settings.likeness += kBleachedLikeness * bleached;
  }
  // What is held to is the recoloured photo: its contrasts are already those that the painting will have.
  const Image drawn = first;
  if (start != nullptr) first = croppedToAspect(rgbOf(*start), plan.levels.back().picture);

  PaintResult result;
  const double work = plan.work();
  double done = 0;
  int total = 0;
  const auto levels = static_cast<int>(plan.levels.size());
  Image current = first;
  for (int l = 0; l < levels; ++l) {
    const LevelPlan& level = plan.levels[static_cast<std::size_t>(l)];
    current = l == 0 ? resizePhoto(current, level.picture.width, level.picture.height)
                     : enlarged(current, level.picture);
    Easel easel(chain, drawn, references, level, settings);
    LevelRun run(easel, current);
    bool goOn = true;
    for (int s = 0; s < level.steps && goOn; ++s) {
      const auto draw = settings.seed * 1000003ULL + static_cast<std::uint64_t>(l) * 100000ULL +
                        static_cast<std::uint64_t>(s);
      LossTerms loss;
      if (run.step(s, draw, loss)) {
        result.loss = loss;
      } else if (++result.recovered > kMostRecoveries && !run.sound()) {
        throw Error(fmt::format(
            "the painting cannot begin at level {} of {}: the loss is not a number; try full precision, "
            "or another reference",
            l + 1, levels));
      }
      done += level.work() / level.steps;
      ++total;
      result.last = {l, levels, s + 1, level.steps, result.loss, done / work};
      if (callbacks.snapshot && settings.snapshots > 0 && total % settings.snapshots == 0) {
        callbacks.snapshot(clipped(run.picture()), total);
      }
      if (callbacks.progress) goOn = callbacks.progress(result.last);
    }
    current = run.picture();
    if (!goOn && result.last.done < 1.0 - 1e-9) break;
    result.finished = l + 1 == levels;
  }
  const Size final = plan.levels.back().picture;
  result.picture = clipped(enlarged(current, final));
  if (settings.opacity < 1) {
    result.picture = blendOver(resizePhoto(photo, final.width, final.height), result.picture,
                               static_cast<float>(settings.opacity));
  }
  return result;
}

namespace {

// How many lines from one side are even in themselves and alike: the largest deviation of any channel
// from the corner's colour stays small.
struct Line {
  int x, y, dx, dy, length;
};

bool lineIsFrame(const Image& image, const Line& line, const std::array<float, 3>& colour) {
  int strays = 0;
  for (int i = 0; i < line.length; ++i) {
    float off = 0;
    for (int c = 0; c < 3; ++c) {
      off = std::max(off, std::fabs(image.at(line.x + i * line.dx, line.y + i * line.dy, c) -
                                    colour[static_cast<std::size_t>(c)]));
    }
    if (off > 0.06F) ++strays;
  }
  return strays * 50 < line.length;
}

}  // namespace

Image trimmed(const Image& reference, double part) {
  if (part == 0) return reference;
  const int w = reference.width;
  const int h = reference.height;
  int left = static_cast<int>(std::lround(w * part));
  int top = static_cast<int>(std::lround(h * part));
  int right = left;
  int bottom = top;
  if (part < 0) {
    const std::array<float, 3> colour{reference.at(0, 0, 0), reference.at(0, 0, 1), reference.at(0, 0, 2)};
    const auto count = [&](int most, auto line) {
      int n = 0;
      while (n < most && lineIsFrame(reference, line(n), colour)) ++n;
      return n;
    };
    left = count(w / 3, [&](int n) { return Line{n, 0, 0, 1, h}; });
    right = count(w / 3, [&](int n) { return Line{w - 1 - n, 0, 0, 1, h}; });
    top = count(h / 3, [&](int n) { return Line{0, n, 1, 0, w}; });
    bottom = count(h / 3, [&](int n) { return Line{0, h - 1 - n, 1, 0, w}; });
    // A sky reaches one side or two; a frame reaches all four.
    if (left == 0 || right == 0 || top == 0 || bottom == 0) return reference;
  }
  const int width = std::max(1, w - left - right);
  const int height = std::max(1, h - top - bottom);
  return crop(reference, std::min(left, w - 1), std::min(top, h - 1), width, height);
}

}  // namespace jugendstil
