// SPDX-License-Identifier: Apache-2.0
// The bars of painting, one line each: jugendstil_bars
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "bare_convolutions.h"
#include "base/parallel.h"
#include "canvas.h"
#include "image/picture_file.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/easel.h"
#include "paint/painter.h"

namespace {

using namespace jugendstil;
using namespace bench;

struct Material {
  Chain chain;
  Image photo;
  std::vector<PaintReference> references;
};

Material load() {
  const std::string root = JUGENDSTIL_SHARE_SOURCE;
  return {readOnnx(root + "/networks/filigree.onnx"),
          readPicture(root + "/demo/photos/palm_house.jpg").image,
          {{readPicture(root + "/demo/references/evening_impasto.jpg").image, 1}}};
}

struct StepTime {
  double best;
  double median;
  double ofTen;  // mean of the ten quickest steps in a row
};

// Whole optimisation steps: pyramid, forward, all losses, backward, update.
class Stepper {
 public:
  Stepper(const Material& m, int width, int height, Precision precision,
          MeasureKind measure = MeasureKind::gram)
      : easel_(m.chain, measureReferences(m.chain, m.references, {width, height}, 1, measure, precision),
               canvasOf(width, height), settingsFor(precision, measure)),
        run_(easel_, resizePhoto(m.photo, width, height)) {
    easel_.hold(m.photo, {50});
    for (int i = 0; i < 10; ++i) once();
    times_.clear();
  }

  void once() {
    const auto begin = Clock::now();
    LossTerms loss;
    run_.step(count_, 1000, static_cast<std::uint64_t>(count_), loss);
    ++count_;
    times_.push_back(since(begin));
  }

  StepTime time() {
    double ten = 1e9;
    for (std::size_t i = 0; i + 10 <= times_.size(); ++i)
      ten = std::min(ten, std::accumulate(&times_[i], &times_[i] + 10, 0.0) / 10);
    std::sort(times_.begin(), times_.end());
    return {times_.front(), times_[times_.size() / 2], ten};
  }

 private:
  static PaintSettings settingsFor(Precision precision, MeasureKind measure) {
    PaintSettings settings;
    settings.precision = precision == Precision::half ? PrecisionChoice::half : PrecisionChoice::full;
    settings.measure = measure;
    return settings;
  }

  Easel easel_;
  LevelRun run_;
  int count_ = 0;
  std::vector<double> times_;
};

StepTime stepTime(const Material& m, Precision precision, int threads,
                  MeasureKind measure = MeasureKind::gram) {
  setThreads(threads);
  Stepper stepper(m, 512, 384, precision, measure);
  for (int i = 0; i < 25; ++i) stepper.once();
  setThreads(0);
  return stepper.time();
}

// The machine's speed drifts, so steps and bare convolutions are timed in turn.
StepTime stepAgainstBare(const Material& m, Precision precision, BareTime& bare) {
  setThreads(2);
  Stepper stepper(m, 512, 384, precision);
  bare = bareConvolutions(m.chain, 512, 384, precision);
  for (int round = 0; round < 8; ++round) {
    const BareTime again = bareConvolutions(m.chain, 512, 384, precision);
    bare.direct = std::min(bare.direct, again.direct);
    bare.fastest = std::min(bare.fastest, again.fastest);
    for (int i = 0; i < 12; ++i) stepper.once();
  }
  return stepper.time();
}

double finalLoss(const Material& m, PrecisionChoice precision) {
  PaintSettings settings;
  settings.precision = precision;
  settings.longEdge = 256;
  return paint(m.chain, {m.photo, m.references}, settings, {}).loss.total();
}

double paintTime(const Material& m, int longEdge, const Image& photo) {
  PaintSettings settings;
  settings.longEdge = longEdge;
  const auto begin = Clock::now();
  paint(m.chain, {photo, m.references}, settings, {});
  return since(begin);
}

Image fourToThree(const Image& photo) { return crop(photo, 0, 0, photo.height * 4 / 3, photo.height); }

}  // namespace

int main() {
  // First, while this process is still small and has no threads for the child to miss.
  const double memory = peakMemory([] {
    const Material m = load();
    setThreads(2);
    PaintSettings settings;
    settings.longEdge = 1024;
    settings.brushwork = false;
    settings.steps = {4};
    paint(m.chain, {fourToThree(m.photo), m.references}, settings, {});
  });
  report("peak memory of painting 1024x768, all of it optimised", memory, "MB", 900, true);

  const Material m = load();
  const bool half = processorHasHalf();
  StepTime full{};
  StepTime fast{};
  for (const Precision precision : {Precision::full, Precision::half}) {
    if (precision == Precision::half && !half) continue;
    const char* name = precision == Precision::half ? "bf16" : "f32";
    BareTime bare;
    const StepTime step = stepAgainstBare(m, precision, bare);
    (precision == Precision::half ? fast : full) = step;
    const double bar = precision == Precision::half ? 2.0 : 1.25;
    fmt::print(
        "{}: bare convolutions {:.1f} ms direct, {:.1f} ms at their fastest, step best {:.1f} ms, median "
        "{:.1f} ms\n",
        name, bare.direct * 1e3, bare.fastest * 1e3, step.best * 1e3, step.median * 1e3);
    report(fmt::format("step at 512x384, {}, against bare direct convolutions", name),
           step.best / bare.direct, "times", bar, true);
    report(fmt::format("step at 512x384, {}, against the fastest ones", name), step.best / bare.fastest,
           "times", bar, true);
    const StepTime single = stepTime(m, precision, 1);
    report(fmt::format("two threads against one, {}", name), single.best / step.best, "times", 1.7, false);
  }
  if (half) report("bf16 step against f32", full.best / fast.best, "times", 6, false);
  // Ten steps in a row, because some measures do more in some steps than in others.
  const Precision usual = half ? Precision::half : Precision::full;
  const double gram = stepTime(m, usual, 2).ofTen;
  const auto against = [&](MeasureKind kind) { return stepTime(m, usual, 2, kind).ofTen / gram; };
  fmt::print("moments step against gram: {:.2f} times, critic {:.2f} times\n", against(MeasureKind::moments),
             against(MeasureKind::critic));
  report("sliced step against gram", against(MeasureKind::sliced), "times", 1.6, true);
  report("neighbours step against gram", against(MeasureKind::neighbours), "times", 4, true);
  setThreads(2);
  if (half) {
    const double a = finalLoss(m, PrecisionChoice::full);
    const double b = finalLoss(m, PrecisionChoice::half);
    report("final loss, bf16 from f32", 100 * std::fabs(b - a) / a, "%", 2, true);
  }
  report("painting 768x576 with the default settings", paintTime(m, 768, fourToThree(m.photo)), "s", 30,
         true);
  return 0;
}
