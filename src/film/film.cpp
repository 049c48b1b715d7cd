// SPDX-License-Identifier: Apache-2.0
#include "film/film.h"

#include <algorithm>
#include <memory>

#include "base/stop.h"
#include "film/fades.h"
#include "film/finisher.h"
#include "film/frame_maker.h"
#include "film/held.h"
#include "film/passes.h"
#include "film/plan.h"

namespace jugendstil {
namespace {

void summarise(const FilmWork& work, FilmResult& result) {
  result.done = work.journal.records(1).size();
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
  if (work.inputs.grade) {
    const auto grader = makeGrader(work);
    passForward(work, *grader);
    fillGaps(work);
    return;
  }
  work.fades = findFades(
      work.feed, [&](std::int64_t place) { work.tell("looking at the shots", place, work.feed.count()); });
  const auto painterFor = [&](int pass) {
    return work.inputs.painter != nullptr ? makeQuickPainter(work, keys, pass)
                                          : makePainter(work, keys, pass);
  };
  {
    const auto painter = painterFor(1);
    passForward(work, *painter);
  }
  fillGaps(work);
  if (work.inputs.film.passes < 2) return;
  const auto painter = painterFor(2);
  passBackward(work, *painter);
}

}  // namespace

FilmResult makeFilm(const FilmInputs& inputs, const FilmCallbacks& callbacks) {
  const auto source = openClip(inputs.clip);
  const ClipInfo clip = source->info();
  FrameFeed feed(*source, inputs.film);
  const Size size = filmSize(inputs, clip);
  const Size painted = inputs.grade ? size : framePlan(inputs, size).working;
  feed.setSize(painted);
  // What cannot be held is said now: once frames are made, each would count as one that failed.
  likenessIn(Image(painted.width, painted.height), 50, inputs.holds);
  Journal journal(workFolderFor(inputs.output), inputs.making, inputs.anew,
                  clip.bits <= 8 ? Depth::eight : Depth::sixteen);
  FilmWork work{inputs, callbacks, feed, journal, size, painted, {}};
  FilmResult result;
  result.width = size.width;
  result.height = size.height;
  try {
    journal.forgetDamaged(
        [&](std::int64_t done, std::int64_t all) { work.tell("looking over what is kept", done, all); });
    const KeyLeads keys(work);
    makeFrames(work, keys);
    feed.setSize(size);
    std::unique_ptr<MaskTrack> mask;
    if (inputs.mask) mask = std::make_unique<MaskTrack>(work);
    result.frames = finishFilm(work, clip, keys, mask.get());
    result.finished = true;
  } catch (const Stopped&) {
  } catch (...) {
    // Nothing was made that would be worth keeping.
    const auto& records = journal.records(1);
    if (std::all_of(records.begin(), records.end(), [](const auto& each) { return each.second.filled; }))
      journal.remove();
    throw;
  }
  summarise(work, result);
  if (result.finished) journal.remove();
  return result;
}

}  // namespace jugendstil
