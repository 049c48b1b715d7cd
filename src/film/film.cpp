#include "film/film.h"

#include <memory>

#include "film/fades.h"
#include "film/finisher.h"
#include "film/frame_maker.h"
#include "film/passes.h"
#include "film/steady_painter.h"
#include "image/error.h"
#include "paint/plan.h"

namespace jugendstil {
namespace {

void summarise(const FilmWork& work, FilmResult& result) {
  result.done = static_cast<std::int64_t>(work.journal.records(1).size());
  result.kept = work.kept;
  for (const auto& [place, record] : work.journal.records(1)) {
    const auto again = work.journal.records(2).find(place);
    result.paintSeconds += again == work.journal.records(2).end() ? record.seconds : again->second.seconds;
  }
  double pairs = 0;
  for (const FrameFigures& f : result.frames) {
    if (f.trusted <= 0) continue;
    ++pairs;
    result.error += f.error;
    result.sourceError += f.sourceError;
  }
  if (pairs > 0) {
    result.error /= pairs;
    result.sourceError /= pairs;
  }
}

void makeFrames(FilmWork& work, const KeyLeads& keys) {
  if (work.plan.grade) {
    const auto grader = makeGrader(work);
    passForward(work, *grader);
    fillGaps(work);
    return;
  }
  work.fades = findFades(
      work.feed, [&](std::int64_t place) { work.tell("looking at the shots", place, work.feed.count()); });
  {
    const auto painter = makePainter(work, keys, 1);
    passForward(work, *painter);
  }
  fillGaps(work);
  if (work.plan.film.passes < 2) return;
  const auto painter = makePainter(work, keys, 2);
  passBackward(work, *painter);
}

}  // namespace

void FilmWork::tell(const char* stage, std::int64_t frame, std::int64_t frames, int step, int steps,
                    double loss) const {
  if (!callbacks.progress) return;
  const FilmProgress progress{stage, frame, frames, step, steps, loss, retried, kept};
  if (!callbacks.progress(progress)) throw FilmStopped{};
}

FilmOutline outlineFilm(const FilmPlan& plan) {
  const auto source = openClip(plan.clip);
  const FrameFeed feed(*source, plan.film);
  FilmOutline outline;
  outline.clip = source->info();
  outline.size = filmSize(plan, outline.clip);
  outline.frames = feed.count();
  // A dozen frames stand in memory at once, with their flows.
  outline.memory =
      static_cast<std::size_t>(outline.size.width) * static_cast<std::size_t>(outline.size.height) * 12 * 20 +
      (std::size_t{160} << 20);
  if (plan.grade) return outline;
  outline.paint = framePlan(plan, outline.size);
  outline.frameSteps = ledSteps({plan.film.steady, plan.film.frameSteps});
  outline.memory += outline.paint.memory;
  return outline;
}

FilmResult makeFilm(const FilmPlan& plan, const FilmCallbacks& callbacks) {
  const auto source = openClip(plan.clip);
  const ClipInfo clip = source->info();
  FrameFeed feed(*source, plan.film);
  const Size size = filmSize(plan, clip);
  const Size painted = plan.grade ? size : framePlan(plan, size).working;
  feed.setSize(painted);
  Journal journal(workFolderFor(plan.output), plan.making, plan.anew,
                  clip.bits <= 8 ? Depth::eight : Depth::sixteen);
  FilmWork work{plan, callbacks, feed, journal, size, painted, {}};
  FilmResult result;
  result.width = size.width;
  result.height = size.height;
  try {
    const KeyLeads keys(work);
    makeFrames(work, keys);
    feed.setSize(size);
    std::unique_ptr<MaskTrack> mask;
    if (plan.mask) mask = std::make_unique<MaskTrack>(work);
    result.frames = finishFilm(work, clip, keys, mask.get());
    result.finished = true;
  } catch (const FilmStopped&) {
  } catch (...) {
    // Nothing was made that would be worth keeping.
    if (journal.records(1).empty()) journal.remove();
    throw;
  }
  summarise(work, result);
  if (result.finished) journal.remove();
  return result;
}

}  // namespace jugendstil
