// SPDX-License-Identifier: Apache-2.0
#include "base/error.h"
#include "film/fill.h"
#include "film/passes.h"

namespace jugendstil {
namespace {

Image sourceOrPainted(FilmWork& work, std::int64_t place) {
  Image frame;
  return work.feed.at(place, frame) == FrameState::read ? frame : work.journal.load(kPainted, place);
}

}  // namespace

void fillGaps(FilmWork& work) {
  const auto& done = work.journal.records(1);
  const std::int64_t count = done.size();
  for (const auto& [place, record] : done) {
    if (!record.filled || work.journal.has(kPainted, place)) continue;
    work.tell("filling gaps", place, count);
    std::int64_t a = place - 1;
    while (a >= 0 && done.at(a).filled) --a;
    std::int64_t b = place + 1;
    while (b < count && done.at(b).filled) ++b;
    if (a < 0 && b >= count) {
      throw Error("not one frame could be made; see that the clip plays, or try another reference");
    }
    Image picture;
    if (a >= 0 && b < count && done.at(a).shot == done.at(b).shot) {
      const FlowPair flows = flowBetween(greyOf(sourceOrPainted(work, a)), greyOf(sourceOrPainted(work, b)));
      picture = between(rgbOf(work.journal.load(kPainted, a)), rgbOf(work.journal.load(kPainted, b)), flows,
                        static_cast<double>(place - a) / static_cast<double>(b - a));
    } else {
      // At the end of a shot its last frame stands a little longer, at the beginning of the film the first.
      picture = work.journal.load(kPainted, a >= 0 ? a : b);
    }
    work.journal.store(kPainted, place, picture);
  }
}

}  // namespace jugendstil
