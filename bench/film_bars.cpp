// SPDX-License-Identifier: Apache-2.0
// The bars of film, one line each, on the demo clip with its true motion: jugendstil_film_bars [FIRST COUNT]
#include <cmath>
#include <cstdlib>
#include <filesystem>

#include "base/parallel.h"
#include "clip/clip_writer.h"
#include "film/film.h"
#include "film/lead_maker.h"
#include "film/led_brushwork.h"
#include "film/mask_follower.h"
#include "film/steady_painter.h"
#include "image/picture_file.h"
#include "measure.h"
#include "motion/steadiness.h"
#include "motion/trust.h"
#include "network/chain_file.h"
#include "paint/appraisal.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

const fs::path kDemo = fs::path(JUGENDSTIL_SHARE_SOURCE) / "demo";

// The true motion of one frame to the next, and the pixels that are seen in both.
struct Truth {
  Flow flow;
  Image visible;  // 1 channel
};

Flow flowOf(const Image& coded) {
  Flow flow(coded.width, coded.height);
  for (std::size_t i = 0; i < flow.u.size(); ++i) {
    flow.u[i] = (coded.pixels[i * 3 + 1] * 255 - 128) / 32;
    flow.v[i] = (coded.pixels[i * 3 + 2] * 255 - 128) / 32;
  }
  return flow;
}

// The camera and the boat go evenly: where a pixel's goal has another motion, something else is in front of
// it.
Truth truthOf(const Image& coded, const Image& next) {
  constexpr float kSame = 0.2F;
  Truth truth{flowOf(coded), Image(coded.width, coded.height, 1)};
  const Flow after = flowOf(next);
  for (int y = 0; y < coded.height; ++y) {
    for (int x = 0; x < coded.width; ++x) {
      const std::size_t i = truth.flow.index(x, y);
      const float tx = static_cast<float>(x) + truth.flow.u[i];
      const float ty = static_cast<float>(y) + truth.flow.v[i];
      if (tx < 0 || ty < 0 || tx > static_cast<float>(coded.width - 1) ||
          ty > static_cast<float>(coded.height - 1))
        continue;
      const float matte = coded.at(x, y, 0);
      if (matte > 0.1F && matte < 0.9F) continue;  // the fish: its motion is not known
      const std::size_t to =
          after.index(static_cast<int>(std::lround(tx)), static_cast<int>(std::lround(ty)));
      if (std::fabs(after.u[to] - truth.flow.u[i]) < kSame &&
          std::fabs(after.v[to] - truth.flow.v[i]) < kSame)
        truth.visible.pixels[i] = 1;
    }
  }
  return truth;
}

struct Material {
  Chain chain = readOnnx(fs::path(JUGENDSTIL_SHARE_SOURCE) / "networks/filigree.onnx");
  std::vector<PaintReference> references{
      {rgbOf(readPicture(kDemo / "references/evening_impasto.jpg").image), 1}};
  std::vector<Image> frames;
  std::vector<Truth> truths;  // one less than frames
};

Material load(std::int64_t first, std::int64_t count) {
  Material m;
  const auto clip = openClip((kDemo / "clip/pond.mp4").string());
  const auto truth = openClip((kDemo / "clip/pond.truth.mkv").string());
  clip->seek(first);
  truth->seek(first);
  Image before;
  for (std::int64_t i = 0; i < count; ++i) {
    Image frame;
    Image coded;
    clip->read(frame);
    truth->read(coded);
    if (i > 0) m.truths.push_back(truthOf(before, coded));
    m.frames.push_back(std::move(frame));
    before = std::move(coded);
  }
  return m;
}

// Mean warping error along the true motion.
double trueError(const Material& m, const std::vector<Image>& frames) {
  double sum = 0;
  for (std::size_t i = 0; i < m.truths.size(); ++i)
    sum += warpingError(frames[i], frames[i + 1], m.truths[i].flow, m.truths[i].visible);
  return sum / static_cast<double>(m.truths.size());
}

void motionBars(const Material& m) {
  double error = 0;
  double trusted = 0;
  double right = 0;
  double known = 0;
  double pixels = 0;
  for (std::size_t i = 0; i < m.truths.size(); ++i) {
    const FlowPair flows = flowBetween(greyOf(m.frames[i]), greyOf(m.frames[i + 1]));
    const Image trust = trustMask(flows.there, flows.back);
    const Truth& truth = m.truths[i];
    for (std::size_t p = 0; p < trust.pixels.size(); ++p) {
      ++pixels;
      if (trust.pixels[p] < 1) continue;
      ++trusted;
      if (truth.visible.pixels[p] < 1) continue;
      ++right;
      error += static_cast<double>(
          std::hypot(flows.there.u[p] - truth.flow.u[p], flows.there.v[p] - truth.flow.v[p]));
    }
  }
  known = right;
  report("flow: mean end-point error on trusted pixels", error / known, "px", 1, true);
  report("trust: part of trusted pixels that are seen in both frames", 100 * right / trusted, "%", 95, false);
  fmt::print("trusted are {:.0f} % of all pixels\n", 100 * trusted / pixels);
}

// The boat's matte given for the first frame and followed to the last: how much of it and the true one is
// common.
void maskFigure() {
  const Material all = load(0, 96);
  const auto truth = openClip((kDemo / "clip/pond.truth.mkv").string());
  const auto matteOf = [](const Image& coded) {
    Image matte(coded.width, coded.height, 1);
    for (std::size_t i = 0; i < matte.area(); ++i) matte.pixels[i] = coded.pixels[i * 3] > 0.9F ? 1.0F : 0.0F;
    return matte;
  };
  Image coded;
  truth->read(coded);
  MaskFollower follower(all.frames[0], matteOf(coded));
  double sum = 0;
  double last = 0;
  for (std::size_t i = 1; i < all.frames.size(); ++i) {
    follower.follow(all.frames[i], motionBetween(greyOf(all.frames[i]), greyOf(all.frames[i - 1]), 0));
    truth->read(coded);
    const Image matte = matteOf(coded);
    double both = 0;
    double either = 0;
    for (std::size_t p = 0; p < matte.pixels.size(); ++p) {
      both += static_cast<double>(std::min(matte.pixels[p], follower.mask().pixels[p]));
      either += static_cast<double>(std::max(matte.pixels[p], follower.mask().pixels[p]));
    }
    last = both / either;
    sum += last;
  }
  fmt::print(
      "mask followed over 95 frames: overlap with the true matte {:.1f} % on average, {:.1f} % at the end, "
      "confidence {:.0f} %\n",
      100 * sum / static_cast<double>(all.frames.size() - 1), 100 * last, 100 * follower.confidence());
}

struct Run {
  std::vector<Image> frames;
  std::vector<double> losses;
  double style = 0;
  std::vector<double> seconds;
};

PaintPlan planOf(const Material& m, PaintSettings settings) {
  const Size size{m.frames[0].width, m.frames[0].height};
  settings.longEdge = std::max(size.width, size.height);
  return planPainting(size, settings, m.chain);
}

Run paintSteadily(const Material& m, const PaintSettings& settings) {
  Run run;
  const PaintPlan plan = planOf(m, settings);
  SteadyPainter painter(m.chain, m.references, settings, {}, plan.working);
  LedBrushwork brushwork(plan, settings.stroke, settings.seed);
  const PaintBasis basis = paintBasis(m.frames[0], m.references, settings);
  brushwork.beginShot(basis);
  LeadMaker history;
  history.beginShot();
  std::vector<Image> stored;
  Image canvas;
  Image before;
  for (std::size_t i = 0; i < m.frames.size(); ++i) {
    const auto begin = Clock::now();
    const Image frame = resizePhoto(m.frames[i], plan.working.width, plan.working.height);
    const GreyFrame grey = greyOf(frame);
    PaintedFrame painted;
    std::optional<Lead> lead;
    std::optional<Motion> motion;
    if (i == 0) {
      painter.beginShot(frame);
      painted = painter.paintFirst(frame, {}, 1, {});
    } else {
      motion = history.toLatest(grey);
      lead = history.lead(grey, before, *motion,
                          [&](std::int64_t place) { return stored[static_cast<std::size_t>(place)]; });
      lead->canvas = carriedCanvas(canvas, motion->back);
      painted = painter.paintNext(frame, {}, *lead, false, run.losses.back() * 1.1, i + 1, {});
      motion = motionBetween(greyOf(m.frames[i]), greyOf(m.frames[i - 1]), 0);
    }
    run.frames.push_back(brushwork.laidIn(painted.picture, drawingOf(basis, m.frames[i]), motion));
    canvas = painted.canvas;
    run.seconds.push_back(since(begin));
    stored.push_back(withRipeness(painted.picture, lead ? &*lead : nullptr));
    history.add(static_cast<std::int64_t>(i), grey);
    before = frame;
    run.losses.push_back(painted.loss);
    run.style += painted.style / static_cast<double>(m.frames.size());
  }
  return run;
}

Run paintEachByItself(const Material& m, const PaintSettings& settings) {
  Run run;
  const PaintPlan plan = planOf(m, settings);
  SteadyPainter painter(m.chain, m.references, settings, {}, plan.working);
  LedBrushwork brushwork(plan, settings.stroke, settings.seed);
  for (std::size_t i = 0; i < m.frames.size(); ++i) {
    const auto begin = Clock::now();
    const Image frame = resizePhoto(m.frames[i], plan.working.width, plan.working.height);
    painter.beginShot(frame);
    const PaintedFrame painted = painter.paintFirst(frame, {}, i + 1, {});
    const PaintBasis basis = paintBasis(m.frames[i], m.references, settings);
    brushwork.beginShot(basis);
    run.frames.push_back(brushwork.laidIn(painted.picture, drawingOf(basis, m.frames[i]), {}));
    run.seconds.push_back(since(begin));
    run.losses.push_back(painted.loss);
    run.style += painted.style / static_cast<double>(m.frames.size());
  }
  return run;
}

// The style distance of finished frames, as they were written: after all that is done to them when their last
// step is over.
double finishedStyle(const Material& m, const std::vector<Image>& frames) {
  const Size size{frames[0].width, frames[0].height};
  Appraiser appraiser(m.chain, {}, m.references, size);
  double sum = 0;
  for (const Image& frame : frames) {
    for (const double share : appraiser.of(frame).style) sum += share / (1 - share);
  }
  return sum / static_cast<double>(frames.size());
}

double meanFrom(const std::vector<double>& values, std::size_t first) {
  double sum = 0;
  for (std::size_t i = first; i < values.size(); ++i) sum += values[i];
  return sum / static_cast<double>(values.size() - first);
}

void paintingBars(const Material& m) {
  const PaintSettings settings;
  const Run steady = paintSteadily(m, settings);
  const Run single = paintEachByItself(m, settings);
  const double own = trueError(m, m.frames);
  const double held = trueError(m, steady.frames);
  const double loose = trueError(m, single.frames);
  fmt::print("warping error along the true motion: clip {:.2e}, steady {:.2e}, each by itself {:.2e}\n", own,
             held, loose);
  report("warping error: steady / each frame by itself", held / loose, "times", 0.5, true);
  report("warping error: steady / the clip's own", held / own, "times", 1.6, true);
  report("style loss: steady / each frame by itself", steady.style / single.style, "times", 1.1, true);
  report("style of the finished frames: steady / each by itself",
         finishedStyle(m, steady.frames) / finishedStyle(m, single.frames), "times", 1.1, true);
  fmt::print("loss of led frames {:.4f}, of frames by themselves {:.4f}\n", meanFrom(steady.losses, 1),
             meanFrom(single.losses, 0));
  // Frames by themselves, with fewer steps, until their loss is no better than that of the led ones.
  PaintSettings shorter;
  shorter.steps = {84, 70, 105};
  Material few = {m.chain, m.references, {m.frames.begin(), m.frames.begin() + 3}, {}};
  const Run hasty = paintEachByItself(few, shorter);
  fmt::print("loss of frames by themselves with 70 % of the steps {:.4f}\n", meanFrom(hasty.losses, 0));
  report("time: led frame / frame by itself to about its loss",
         meanFrom(steady.seconds, 1) / meanFrom(hasty.seconds, 0), "times", 0.25, true);
}

// A run of many tiny frames through the whole machinery.
double memoryOf(const fs::path& folder, int frames) {
  const std::string clip = (folder / fmt::format("in{}.mkv", frames)).string();
  ClipFormat format;
  format.width = 96;
  format.height = 64;
  format.rate = {24, 1};
  format.timeBase = {1, 24};
  const auto writer = createClip(clip, format, std::nullopt);
  const Image scene = resizePhoto(readPicture(kDemo / "photos/gate.jpg").image, 300, 200);
  for (int i = 0; i < frames; ++i) writer->write(crop(scene, i % 200, 60, 96, 64), i);
  writer->finish();
  return peakMemory([&] {
    setThreads(1);
    const Chain chain = readOnnx(fs::path(JUGENDSTIL_SHARE_SOURCE) / "networks/filigree.onnx");
    FilmInputs inputs;
    inputs.clip = clip;
    inputs.output = (folder / fmt::format("out{}.mkv", frames)).string();
    inputs.chain = &chain;
    inputs.references = {
        {resizePhoto(readPicture(kDemo / "references/evening_impasto.jpg").image, 200, 160), 1}};
    inputs.paint.steps = {2};
    inputs.film.frameSteps = 1;
    makeFilm(inputs, {});
  });
}

}  // namespace

int main(int count, char** words) {
  const fs::path folder = fs::temp_directory_path() / fmt::format("jugendstil-film-bars-{}", getpid());
  fs::create_directories(folder);
  // Before this process has threads.
  const double few = memoryOf(folder, 100);
  const double many = memoryOf(folder, 2000);
  fs::remove_all(folder);
  fmt::print("peak memory: {:.1f} MB with 100 frames, {:.1f} MB with 2000\n", few, many);
  report("memory: 2000 frames / 100 frames", many / few, "times", 1.05, true);
  setThreads(0);
  const Material m = load(count > 2 ? std::atoi(words[1]) : 36, count > 2 ? std::atoi(words[2]) : 16);
  motionBars(m);
  maskFigure();
  paintingBars(m);
  return 0;
}
