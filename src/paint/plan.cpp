// SPDX-License-Identifier: Apache-2.0
#include "paint/plan.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/number.h"
#include "network/bands_at.h"
#include "paint/enlarge.h"
#include "paint/quiet.h"

namespace jugendstil {
namespace {

constexpr int kMargin = 32;
constexpr int kMultiple = 16;
constexpr int kLeastSide = 16;
// Losses are optimised up to the area of this picture. There a reference's strokes are some pixels wide, as
// the network knows strokes; on larger pictures it makes a fine relief of them.
constexpr double kWorkingArea = 512.0 * 384.0;
// Laying brush-work into a pixel takes as long as so many steps of it.
constexpr double kBrushSteps = 2.6;
constexpr double kBrushStepsInHalf = 21;
// Of a pixel that brush-work is laid into, and of one of the examples.
constexpr double kBrushBytes = 85;
constexpr double kLaterBytes = 24;
constexpr double kExampleBytes = 70;
// Of a pixel that is painted at once.
constexpr double kAtOnceBytes = 400;
// A tile smaller than this is nearly all margin.
constexpr std::size_t kLeastTile = std::size_t{300} << 20;
// Below this a level shows the network too little of the subject.
constexpr int kCoarsest = 192;

int roundUp(int value) { return (value + kMultiple - 1) / kMultiple * kMultiple; }

int levelCount(int longEdge, int asked) {
  if (asked > 0) return asked;
  if (longEdge <= kCoarsest) return 1;
  return std::max(3, 1 + rounded(std::log2(longEdge / 256.0)));
}

// What a painting keeps of its own when brush-work is laid in: the network makes a hatching of the finest
// detail wherever the photo is flat, and short, woolly strokes of the next. A small one keeps more, or the
// subject is lost.
Size softenedSize(Size working) {
  constexpr double kSoftened = 2.4;
  const int edge = std::max(working.width, working.height);
  const int half = (edge + 1) / 2;
  const double kept = std::max(edge / kSoftened, std::min<double>(half, kCoarsest));
  return sizeForLongEdge(working.width, working.height, rounded(kept));
}

// No stage is more than about twice as large as the one before: brush-work is looked for by what a picture
// half the size shows of it.
void addStages(PaintPlan& plan, Size from, Size to) {
  const int edge = std::max(from.width, from.height);
  const double ratio = static_cast<double>(std::max(to.width, to.height)) / edge;
  const int count = std::max(1, static_cast<int>(std::ceil(std::log2(ratio) - 0.01)));
  for (int i = 1; i <= count; ++i) {
    const double next = edge * std::pow(ratio, 1.0 * i / count);
    plan.enlarging.push_back(i == count ? to : sizeForLongEdge(to.width, to.height, rounded(next)));
  }
}

void addBrushwork(PaintPlan& plan, Size final, double stroke) {
  const Size painted = plan.levels.back().picture;
  // A proof keeps as much of its own as the whole will.
  const Size softened = softenedSize(plan.working);
  if (std::min(softened.width, softened.height) >= kLeastSide && softened.width < painted.width &&
      softened.height < painted.height) {
    plan.softened = softened;
    plan.quiet = quietStages(plan.working, softened, stroke);
    addStages(plan, softened, painted);
  }
  if (std::max(final.width, final.height) > std::max(painted.width, painted.height))
    addStages(plan, painted, final);
}

// Beside the network: the picture, its gradient and Adam's state in f32, and the libraries.
constexpr double kBytesPerPixel = 106;
constexpr double kLessInHalf = 10;  // the drawing's activations
// What L-BFGS holds instead of Adam's two moments: eight pairs of steps and changes of slope, and its line.
constexpr double kMoreForLbfgs = 330;
constexpr std::size_t kAround = std::size_t{330} << 20;

// A photo stays in memory as it came, and before the network is set up there are copies of it in other
// colours.
constexpr double kPhotoBytes = 16;
constexpr double kCopiedBytes = 48;
constexpr std::size_t kProgram = std::size_t{200} << 20;

// The network as it was read; its evaluator has weights of its own.
std::size_t weightsOf(const Chain& chain) {
  std::size_t values = 0;
  for (const Convolution& conv : chain.convolutions) values += conv.weights.size();
  return values * sizeof(float);
}

// What a painting may hold where nothing is said: three quarters of the machine's memory.
std::size_t usualMemory() {
  const std::size_t pages = std::max(1L, sysconf(_SC_PHYS_PAGES));
  return pages * sysconf(_SC_PAGESIZE) / 4 * 3;
}

std::size_t allowedMemory(const PaintSettings& settings) {
  return settings.memory > 0 ? settings.memory : usualMemory();
}

void refuseMoreThanAllowed(std::size_t least, const std::string& needs, const PaintSettings& settings) {
  const std::size_t allowed = allowedMemory(settings);
  if (least <= allowed) return;
  if (settings.memory > 0)
    throw UsageError(fmt::format("memory {} is too little: {}", paintSettingText(settings, "memory"), needs));
  throw UsageError(fmt::format("{}, and this machine has {} MB to give; choose a smaller long-edge", needs,
                               allowed >> 20));
}

// Has the level painted in tiles where the whole of it would hold more than is allowed.
void allot(LevelPlan& level, Size photo, const PaintSettings& settings, const Chain& chain, PaintPlan& plan) {
  const std::size_t allowed = allowedMemory(settings);
  const double pixels = 1.0 * level.canvas.width * level.canvas.height;
  const Precision precision = chosenPrecision(settings.precision);
  const double perPixel = kBytesPerPixel - (precision == Precision::half ? kLessInHalf : 0) +
                          (settings.solver == SolverKind::lbfgs ? kMoreForLbfgs : 0);
  const double photoPixels = 1.0 * photo.width * photo.height;
  // The photo and its drawing at the size to come.
  const double later =
      plan.enlarging.empty() ? 0 : static_cast<double>(plan.size().width) * plan.size().height * kLaterBytes;
  const std::size_t around = kAround + weightsOf(chain) +
                             static_cast<std::size_t>(pixels * perPixel + photoPixels * kPhotoBytes + later);
  const std::size_t whole = Evaluator::memoryFor(chain, level.canvas.width, level.canvas.height, precision);
  std::size_t held = whole;
  if (around + whole > allowed) {
    refuseMoreThanAllowed(around + kLeastTile,
                          fmt::format("{}x{} takes at least {} MB, also in tiles", level.picture.width,
                                      level.picture.height, (around + kLeastTile) >> 20),
                          settings);
    level.budget = held = allowed - around;
    plan.tiled = true;
  }
  plan.memory =
      std::max({plan.memory, around + held, kProgram + static_cast<std::size_t>(photoPixels * kCopiedBytes)});
}

// Enlarging comes when the network is gone.
void allotEnlarging(Size size, Size photo, const PaintSettings& settings, PaintPlan& plan) {
  const double pixels = 1.0 * size.width * size.height;
  const double examples = std::min(kMostExamples, pixels * settings.stroke * settings.stroke) * kExampleBytes;
  const double photoPixels = 1.0 * photo.width * photo.height;
  const std::size_t held =
      kProgram + static_cast<std::size_t>(pixels * kBrushBytes + examples + photoPixels * kPhotoBytes);
  const std::string needs = fmt::format("{}x{} takes at least {} MB", size.width, size.height, held >> 20);
  refuseMoreThanAllowed(held, needs, settings);
  plan.memory = std::max(plan.memory, held);
}

// The longer side of the largest picture whose losses are optimised, of a painting of that longer side.
int workingEdge(Size photo, int longEdge, const PaintSettings& settings) {
  if (!settings.brushwork) {
    if (settings.workingEdge > 0 && settings.workingEdge < longEdge)
      throw UsageError(
          fmt::format("working-edge {} leaves the rest up to {} to brush-work, and brushwork is no; leave "
                      "one of the two out",
                      settings.workingEdge, longEdge));
    return longEdge;
  }
  if (settings.workingEdge > 0) return std::min(longEdge, settings.workingEdge);
  const int shorter = std::min(photo.width, photo.height);
  const int longer = std::max(photo.width, photo.height);
  return std::min(longEdge, rounded(std::sqrt(kWorkingArea * longer / shorter)));
}

int stepsFor(const PaintSettings& settings, int level, int levels) {
  if (settings.steps.size() == 1) return settings.steps[0];
  if (!settings.steps.empty()) return settings.steps[level];
  const bool last = level + 1 == levels;
  // Brush-work replaces what the later steps are for: with twice as many and more the picture beneath it can
  // hardly be told from this one.
  if (settings.brushwork && levels > 1) return last ? 40 : level == 0 ? 60 : 50;
  if (last) return 150;
  return level == 0 ? 120 : 100;
}

void requireSides(Size photo) {
  if (std::min(photo.width, photo.height) >= kLeastSide) return;
  throw Error(fmt::format("the photo has {}x{} pixels; painting needs at least {} a side", photo.width,
                          photo.height, kLeastSide));
}

void requireFinalSides(Size final, int longEdge) {
  if (std::min(final.width, final.height) >= kLeastSide) return;
  throw UsageError(fmt::format("long-edge {} makes the painting {}x{}; it needs at least {} pixels a side",
                               longEdge, final.width, final.height, kLeastSide));
}

int finalEdgeFor(Size photo, const PaintSettings& settings) {
  const int asked = longEdgeFor(photo, settings);
  return settings.finish ? std::max({asked, photo.width, photo.height}) : asked;
}

}  // namespace

double PaintPlan::work() const {
  double sum = 0;
  for (const LevelPlan& level : levels) sum += level.work();
  for (std::size_t i = 0; i < enlarging.size(); ++i) sum += enlargingWork(i);
  return sum;
}

double PaintPlan::enlargingWork(std::size_t i) const {
  double pixels = static_cast<double>(enlarging[i].width) * enlarging[i].height;
  for (std::size_t q = 1; i == 0 && q < quiet.size(); ++q)
    pixels += static_cast<double>(quiet[q].width) * quiet[q].height;
  return pixels * (precision == Precision::half ? kBrushStepsInHalf : kBrushSteps);
}

LevelPlan canvasFor(Size picture) {
  LevelPlan plan;
  plan.picture = picture;
  plan.canvas = {roundUp(picture.width + 2 * kMargin), roundUp(picture.height + 2 * kMargin)};
  plan.left = (plan.canvas.width - picture.width) / 2;
  plan.top = (plan.canvas.height - picture.height) / 2;
  return plan;
}

int longEdgeFor(Size photo, const PaintSettings& settings) {
  constexpr int kUsual = 1024;
  return settings.longEdge > 0 ? settings.longEdge : std::min(std::max(photo.width, photo.height), kUsual);
}

PaintPlan planPainting(Size photo, const PaintSettings& settings, const Chain& chain) {
  emphasisFor(chain, settings);
  requireSides(photo);
  const int finalEdge = finalEdgeFor(photo, settings);
  const int longEdge =
      workingEdge(photo, settings.brushwork ? longEdgeFor(photo, settings) : finalEdge, settings);
  const Size final = sizeForLongEdge(photo.width, photo.height, finalEdge);
  requireFinalSides(final, finalEdge);
  const int levels = levelCount(longEdge, settings.levels);
  if (settings.steps.size() > 1 && countOf(settings.steps) != levels) {
    throw UsageError(fmt::format("steps names {} levels, but there are {}; give one number or {}",
                                 settings.steps.size(), levels, levels));
  }
  PaintPlan plan;
  plan.precision = chosenPrecision(settings.precision);
  const double coarsest =
      std::min<double>(longEdge, std::max<double>(kCoarsest, longEdge / std::pow(2.0, levels - 1)));
  for (int i = 0; i < levels; ++i) {
    const double t = levels == 1 ? 1.0 : 1.0 * i / (levels - 1);
    const int edge = rounded(coarsest * std::pow(longEdge / coarsest, t));
    // By the photo, not by the final size, whose rounding would give other strokes to a larger painting.
    Size size = sizeForLongEdge(photo.width, photo.height, edge);
    size = {std::max(size.width, std::min(kLeastSide, final.width)),
            std::max(size.height, std::min(kLeastSide, final.height))};
    LevelPlan level = canvasFor(size);
    level.steps = stepsFor(settings, i, levels);
    level.finishing = levels > 1 && i + 1 == levels;
    plan.levels.push_back(level);
  }
  plan.working = plan.levels.back().picture;
  if (settings.proof && levels > 1) plan.levels.pop_back();
  plan.softened = plan.levels.back().picture;
  if (settings.brushwork) addBrushwork(plan, settings.proof ? plan.softened : final, settings.stroke);
  // The largest first: if it is too large, that is the size to name.
  for (auto size = plan.enlarging.rbegin(); size != plan.enlarging.rend(); ++size)
    allotEnlarging(*size, photo, settings, plan);
  for (auto level = plan.levels.rbegin(); level != plan.levels.rend(); ++level)
    allot(*level, photo, settings, chain, plan);
  return plan;
}

PaintPlan planAtOnce(Size photo, const PaintSettings& settings, int edge) {
  requireSides(photo);
  const int finalEdge = finalEdgeFor(photo, settings);
  const Size final = sizeForLongEdge(photo.width, photo.height, finalEdge);
  requireFinalSides(final, finalEdge);
  PaintPlan plan;
  LevelPlan level;
  level.picture =
      settings.brushwork ? sizeForLongEdge(photo.width, photo.height, std::min(finalEdge, edge)) : final;
  level.canvas = level.picture;
  plan.levels = {level};
  plan.working = plan.softened = level.picture;
  plan.precision = Precision::full;
  if (settings.brushwork) addBrushwork(plan, settings.proof ? level.picture : final, settings.stroke);
  for (auto size = plan.enlarging.rbegin(); size != plan.enlarging.rend(); ++size)
    allotEnlarging(*size, photo, settings, plan);
  const double held = 1.0 * level.picture.width * level.picture.height * kAtOnceBytes +
                      1.0 * photo.width * photo.height * kCopiedBytes;
  plan.memory = std::max(plan.memory, kProgram + static_cast<std::size_t>(held));
  refuseMoreThanAllowed(
      plan.memory,
      fmt::format("{}x{} takes at least {} MB", level.picture.width, level.picture.height, plan.memory >> 20),
      settings);
  return plan;
}

Chain chainFor(Chain chain, const PaintSettings& settings) {
  std::vector<std::string> style;
  for (const auto& [layer, weight] : settings.styleAt) style.push_back(layer);
  return measuredAt(
      std::move(chain), style,
      settings.contentAt.empty() ? std::vector<std::string>() : std::vector{settings.contentAt});
}

std::vector<double> emphasisFor(const Chain& chain, const PaintSettings& settings) {
  std::vector<double> emphasis(chain.styleBands.size(), 1.0);
  for (const auto& [layer, weight] : settings.styleAt) {
    const auto at = std::find(chain.styleBands.begin(), chain.styleBands.end(), bandAt(chain, layer));
    if (at != chain.styleBands.end()) emphasis[at - chain.styleBands.begin()] = weight;
  }
  for (const auto& [band, value] : settings.emphasis) {
    const auto found = std::find(chain.styleBands.begin(), chain.styleBands.end(), band);
    if (found == chain.styleBands.end()) {
      throw UsageError(fmt::format("emphasis names the band \"{}\"; the network's style bands are {}", band,
                                   fmt::join(chain.styleBands, ", ")));
    }
    emphasis[found - chain.styleBands.begin()] = value;
  }
  if (std::all_of(emphasis.begin(), emphasis.end(), [](double e) { return e == 0; })) {
    throw UsageError("emphasis leaves no band; give at least one a value above 0");
  }
  return emphasis;
}

Precision chosenPrecision(PrecisionChoice choice) {
  if (choice == PrecisionChoice::automatic) return processorHasHalf() ? Precision::half : Precision::full;
  return choice == PrecisionChoice::half ? Precision::half : Precision::full;
}

}  // namespace jugendstil
