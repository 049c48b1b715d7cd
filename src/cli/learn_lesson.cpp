// SPDX-License-Identifier: Apache-2.0
#include "cli/learn_lesson.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/number.h"
#include "base/state_file.h"
#include "base/stop.h"
#include "cli/paint_state.h"
#include "cli/say.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "learn/quick_painter.h"
#include "learn/quick_painting.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::chrono::seconds kKeptEvery{60};
// When the strip gets a picture: parts of the way.
constexpr double kMoments[] = {0.02, 0.05, 0.1, 0.2, 0.35, 0.5, 0.75, 1};
constexpr int kStripEdge = 400;
// A step counts this much in the means that are told.
constexpr double kMean = 0.02;
// After so many steps it knows its own pace.
constexpr int kPaced = 20;

}  // namespace

std::string makingOf(const LearnRecipe& recipe) {
  std::string text = fmt::format("jugendstil {}\nlearn\nnetwork {}\nfirst {}\n", JUGENDSTIL_VERSION,
                                 fileChecksum(recipe.network->path), fileChecksum(shippedGeneralPainter()));
  for (const RecipeInput& r : recipe.references)
    text += fmt::format("after {} @{}\n", fileChecksum(r.path), r.share);
  for (const RecipeInput& photo : recipe.photos) text += fmt::format("photo {}\n", fileChecksum(photo.path));
  if (recipe.clip) {
    const std::string name = recipe.clip->path.string();
    text += fmt::format("clip {}\n", isFramePattern(name) ? fs::absolute(name).lexically_normal().string()
                                                          : fileEndsChecksum(name));
  }
  for (const ShownInput& shown : recipe.shown)
    text += fmt::format("show {} {} {}\n", shown.frame, shown.photo ? fileChecksum(shown.photo->path) : "",
                        fileChecksum(shown.painting.path));
  for (const SettingText& setting : settingsOf(recipe))
    text += fmt::format("{} = {}\n", setting.info.name, setting.text);
  return text;
}

fs::path stripPath(const fs::path& output) {
  return output.parent_path() / (output.stem().string() + ".steps.png");
}

Lesson::Lesson(const LearnJob& job, const LearnFiles& files, ProgressDisplay& display)
    : job_(job),
      files_(files),
      display_(display),
      making_(makingOf(job.recipe)),
      state_(stateFileFor(job.output)),
      learner_(files.chain, files.inputs, job.recipe.settings) {}

void Lesson::resume() {
  StateReader state(state_, making_);
  exchange(state);
  if (job_.tells()) say(stderr, "going on from step {} of {}\n", learner_.stepsDone(), steps());
}

bool Lesson::run(const InterruptWatch& interrupt, double rate) {
  try {
    while (learner_.stepsDone() < steps()) {
      take(learner_.step());
      takeMoment();
      tell(rate);
      keepWhereDue();
      interrupt.stopIfWanted();
    }
  } catch (const Stopped&) {
  }
  return learner_.stepsDone() == steps();
}

void Lesson::write(bool finished) {
  const fs::path file = recipePathFor(job_.output);
  const fs::path folder = fs::absolute(file).parent_path();
  LearnRecipe recipe = job_.recipe;
  // Names and seconds differ from run to run, and painters do not.
  recipe.painter.clear();
  recipe.result.reset();
  writeQuickPainter(job_.output,
                    {learner_.net(), learner_.colours(), job_.recipe.settings, files_.inputs.references},
                    learnRecipeText(recipe, folder));
  recipe.painter = job_.output.filename().string();
  recipe.result = LearnRecipeResult{JUGENDSTIL_VERSION, finished,    learner_.stepsDone(),
                                    display_.seconds(), mean_.style, mean_.content};
  writeFileAtomically(file, learnRecipeText(recipe, folder));
  if (!finished) keep();
  writeStrip();
  std::error_code code;
  if (finished) fs::remove(state_, code);
}

void Lesson::take(const LossTerms& loss) {
  const double part = std::max(kMean, 1.0 / learner_.stepsDone());
  mean_.style += part * (loss.style - mean_.style);
  mean_.content += part * (loss.content - mean_.content);
}

Image Lesson::paintedNow() const {
  const LearnInputs& inputs = files_.inputs;
  const Image& photo = inputs.pairs.empty() ? inputs.photos.front() : inputs.pairs.front().frame;
  const Size size = sizeForLongEdge(photo.width, photo.height, job_.recipe.settings.longEdge);
  const Image sized = resizePhoto(photo, size.width, size.height);
  const PaintBasis basis = paintBasis(sized, inputs.references, job_.recipe.settings.painting);
  return QuickPainting(learner_.net(), size).paint(drawingOf(basis, sized));
}

void Lesson::takeMoment() {
  const auto due = [&](double part) { return learner_.stepsDone() == std::max(1, rounded(part * steps())); };
  if (std::none_of(std::begin(kMoments), std::end(kMoments), due)) return;
  const Image painting = paintedNow();
  const Size shown = sizeForLongEdge(painting.width, painting.height, kStripEdge);
  strip_.push_back({learner_.stepsDone(), resizePhoto(painting, shown.width, shown.height)});
}

void Lesson::writeStrip() const {
  if (strip_.empty()) return;
  std::vector<SheetCell> cells;
  for (const Moment& moment : strip_)
    cells.push_back({moment.picture, fmt::format("step {}", moment.step), ""});
  SheetOptions options;
  options.title = job_.output.filename().string();
  options.columns = std::min(4, countOf(cells));
  options.cellWidth = strip_.front().picture.width;
  options.cellHeight = strip_.front().picture.height;
  writePicture(stripPath(job_.output), contactSheet(cells, options), Depth::eight);
}

void Lesson::tell(double rate) {
  const int done = learner_.stepsDone();
  const double elapsed = display_.seconds();
  const int here = done - begun_;
  const double pace = here >= kPaced ? (elapsed - before_) / here : rate;
  const double remaining = pace * (steps() - done);
  nlohmann::json event = progressEvent(1.0 * done / steps(), elapsed, remaining);
  event["step"] = done;
  event["steps"] = steps();
  event["loss_style"] = mean_.style;
  event["loss_content"] = mean_.content;
  display_.show(1.0 * done / steps(),
                fmt::format("step {} of {}, style {:.3f}, drawing {:.3f}, about {} to go", done, steps(),
                            mean_.style, mean_.content, duration(remaining)),
                event, done == steps());
}

void Lesson::exchange(StateExchange& with) {
  double seconds = display_.seconds();
  with.value(seconds);
  with.value(mean_);
  std::size_t moments = strip_.size();
  with.value(moments);
  if (with.reading()) {
    display_.addSeconds(seconds);
    before_ = seconds;
    strip_.resize(std::min(moments, std::size(kMoments)));
  }
  for (Moment& moment : strip_) {
    with.value(moment.step);
    exchangeImage(with, moment.picture);
  }
  learner_.exchange(with);
  if (with.reading()) begun_ = learner_.stepsDone();
}

// That a state cannot be kept must not cost the painter.
void Lesson::keep() {
  try {
    StateWriter state(state_, making_);
    exchange(state);
    state.commit();
    notKept_.clear();
  } catch (const Error& e) {
    notKept_ = e.what();
  }
}

void Lesson::keepWhereDue() {
  if (Clock::now() - keptAt_ < kKeptEvery) return;
  try {
    write(false);
  } catch (const Error&) {  // it is tried again in a minute, and at the end
  }
  keptAt_ = Clock::now();
}

}  // namespace jugendstil::cli
