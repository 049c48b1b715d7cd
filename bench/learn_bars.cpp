// SPDX-License-Identifier: Apache-2.0
// The bars of quick painters, one line each: jugendstil_learn_bars [PAINTER]. A painter of the demo's clip
// after the demo's oil that was learned before is taken as it is.
#include <filesystem>
#include <optional>

#include "base/parallel.h"
#include "clip/clip.h"
#include "film/film.h"
#include "image/picture_file.h"
#include "learn/clip_lessons.h"
#include "learn/general_painter.h"
#include "learn/learner.h"
#include "learn/paint_at_once.h"
#include "learn/quick_painting.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/easel.h"
#include "paint/painter.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

constexpr int kThreads = 2;
constexpr int kRuns = 5;
constexpr int kPairs = 24;
constexpr std::int64_t kShown[] = {12, 36, 60, 84};
const fs::path kShare = JUGENDSTIL_SHARE_SOURCE;

Image picture(const char* name) { return rgbOf(readPicture(kShare / "demo" / name).image); }

double secondsFor(Size size) {
  const Net net = painterNet(1);
  const Image photo = resizePhoto(picture("photos/palm_house.jpg"), size.width, size.height);
  QuickPainting painting(net, size);
  return bestOf(kRuns, [&] { painting.paint(photo); });
}

// What the painter's network costs does not hang on what it has learned.
void painting() {
  const double large = secondsFor({1024, 768});
  report("a frame of 1024x768", large, "s", 0.3, true);
  report("frames of 640x360", 1 / secondsFor({640, 360}), "a s", 8, false);
  report("four times the pixels take so many times the time", secondsFor({2048, 1536}) / large, "times", 4.6,
         true);
}

QuickPainter learned(const Chain& chain) {
  const auto clip = openClip((kShare / "demo/clip/pond.mp4").string());
  QuickPainter painter;
  painter.references = {{picture("references/evening_impasto.jpg"), 1}};
  LearnInputs inputs{{}, painter.references};
  inputs.first = painterFor(readGeneralPainter(kShare / "networks/general.onnx"), chain, painter.references,
                            painter.settings)
                     .net;
  inputs.pairs = framePairs(*clip, kPairs, painter.settings.longEdge);
  const Clock::time_point begin = Clock::now();
  Learner learner(chain, inputs, painter.settings);
  while (learner.stepsDone() < painter.settings.steps) learner.step();
  report("learning the demo's clip", since(begin) / 60, "min", 10, true);
  painter.net = learner.net();
  return painter;
}

// Both as they are optimised, without brush-work, at the size for which it learned.
class Judge {
 public:
  Judge(const Chain& chain, const QuickPainter& painter, const Image& photo)
      : chain_(chain), painter_(painter) {
    settings_ = settingsWith({&painter}, {});
    settings_.brushwork = false;
    settings_.longEdge = painter.settings.longEdge;
    const Size size = sizeForLongEdge(photo.width, photo.height, settings_.longEdge);
    photo_ = resizePhoto(photo, size.width, size.height);
    const PaintBasis basis = paintBasis(photo_, painter.references, settings_);
    const auto targets = measureReferences(chain, basis.references, size, settings_.stroke, settings_.measure,
                                           Precision::full);
    easel_ = std::make_unique<Easel>(chain, targets, canvasFor(size), settings_);
    easel_->hold(drawingOf(basis, photo_), {basis.likeness});
  }

  LossTerms quick() {
    const PaintInputs inputs = inputsWith({&painter_}, {photo_, {}});
    return lossOf(paintAtOnce({&painter_}, inputs, settings_, {}).painting);
  }
  LossTerms optimised() {
    return lossOf(paint(chain_, {photo_, painter_.references}, settings_, {}).painting);
  }

 private:
  LossTerms lossOf(const Image& painting) {
    const LevelPlan& plan = easel_->plan();
    Planes planes = opponentOf(mirrorPad(painting, plan.left, plan.top,
                                         plan.canvas.width - plan.picture.width - plan.left,
                                         plan.canvas.height - plan.picture.height - plan.top));
    Planes gradient(planes.width, planes.height);
    return easel_->objective().evaluate(planes, 0, gradient);
  }

  const Chain& chain_;
  const QuickPainter& painter_;
  PaintSettings settings_;
  Image photo_;
  std::unique_ptr<Easel> easel_;
};

// Without a bar, it is told only.
void compareLosses(const Chain& chain, const QuickPainter& painter, const std::vector<Image>& photos,
                   const std::string& what, std::optional<double> bar = {}) {
  LossTerms quick;
  LossTerms optimised;
  for (const Image& photo : photos) {
    Judge judge(chain, painter, photo);
    const LossTerms q = judge.quick();
    const LossTerms o = judge.optimised();
    quick.style += q.style;
    quick.content += q.content;
    optimised.style += o.style;
    optimised.content += o.content;
  }
  const double style = quick.style / optimised.style;
  if (bar)
    report(fmt::format("style of {}, beside optimised", what), style, "times", *bar, true);
  else
    fmt::print("  style of {}, beside optimised: {:.2f} times\n", what, style);
  fmt::print("  content, beside optimised: {:.2f} times\n", quick.content / optimised.content);
}

void filming(const QuickPainter& painter) {
  const fs::path folder = fs::temp_directory_path() / "jugendstil-learn-bars";
  fs::create_directories(folder);
  FilmInputs film;
  film.clip = (kShare / "demo/clip/pond.mp4").string();
  film.painter = &painter;
  film.references = painter.references;
  film.film.frames = 24;
  film.film.sound = false;
  film.making = "bench";
  film.anew = true;
  for (const bool brushwork : {false, true}) {
    PaintSettings settings;
    settings.brushwork = brushwork;
    film.paint = settingsWith({&painter}, settings);
    film.output = (folder / "film.mkv").string();
    const Clock::time_point begin = Clock::now();
    const FilmResult result = makeFilm(film, {});
    const char* how = brushwork ? "with brush-work" : "without";
    report(fmt::format("frames of the film a second, {}", how), film.film.frames / since(begin), "a s",
           brushwork ? 2 : 8, false);
    report(fmt::format("warping error beside the clip's own, {}", how), result.error / result.sourceError,
           "times", 1.3, true);
  }
  fs::remove_all(folder);
}

// From the reference's pixels to the painting's.
void generally(const Chain& chain) {
  const GeneralPainter general = readGeneralPainter(kShare / "networks/general.onnx");
  const Image photo = resizePhoto(picture("photos/palm_house.jpg"), 768, 512);
  const PaintReference reference{picture("references/evening_impasto.jpg"), 1};
  for (const bool brushwork : {false, true}) {
    const double seconds = bestOf(kRuns, [&] {
      const QuickPainter painter = painterFor(general, chain, {reference}, {});
      PaintSettings settings = settingsWith({&painter}, {});
      settings.brushwork = brushwork;
      paintAtOnce({&painter}, inputsWith({&painter}, {photo, {}}), settings, {});
    });
    report(fmt::format("the general painter, 768x512, {} brush-work", brushwork ? "with" : "without"),
           seconds, "s", brushwork ? 4 : 1.5, true);
  }
  for (const char* name :
       {"evening_impasto", "sun_lily_mosaic", "moon_linocut", "lily_poster", "moor_wash"}) {
    const QuickPainter painter =
        painterFor(general, chain, {{picture(fmt::format("references/{}.jpg", name).c_str()), 1}}, {});
    compareLosses(chain, painter, {picture("photos/palm_house.jpg")},
                  fmt::format("the general one, {}", name));
  }
}

void learning(const Chain& chain, const char* known) {
  const QuickPainter painter = known != nullptr ? readQuickPainter(known) : learned(chain);
  const auto clip = openClip((kShare / "demo/clip/pond.mp4").string());
  std::vector<Image> frames;
  for (const std::int64_t frame : kShown) frames.push_back(frameOf(*clip, frame));
  compareLosses(chain, painter, frames, "the clip's frames", 1.25);
  compareLosses(chain, painter, {picture("photos/potting_bench.jpg")}, "a photo it has not seen", 1.5);
  filming(painter);
}

}  // namespace

int main(int count, char** words) {
  // Before there are threads.
  report("peak memory of a frame of 1024x768", peakMemory([] {
           setThreads(kThreads);
           secondsFor({1024, 768});
         }),
         "MB", 500, true);
  setThreads(kThreads);
  painting();
  const Chain chain = readOnnx(kShare / "networks/filigree.onnx");
  generally(chain);
  learning(chain, count > 1 ? words[1] : nullptr);
}
