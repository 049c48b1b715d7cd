// SPDX-License-Identifier: Apache-2.0
#include "dive/dive.h"

#include "base/stop.h"
#include "dive/finish.h"
#include "dive/frames.h"

namespace jugendstil {

DiveResult makeDive(const DiveInputs& inputs, const FilmCallbacks& callbacks) {
  const DivePlan plan = planDive(inputs);
  Journal journal(workFolderFor(inputs.output), inputs.making, inputs.anew, Depth::eight);
  DiveResult result;
  result.size = plan.size;
  result.frames = plan.film;
  try {
    journal.forgetDamaged([&](std::int64_t done, std::int64_t all) {
      if (callbacks.progress) callbacks.progress({"looking over what is kept", done, all});
    });
    result.kept = std::ssize(journal.records(1));
    makeDiveFrames(inputs, plan, journal, callbacks);
    finishDive(inputs, plan, journal, callbacks);
    result.finished = true;
  } catch (const Stopped&) {
  } catch (...) {
    // Nothing was made that would be worth keeping.
    if (journal.records(1).empty()) journal.remove();
    throw;
  }
  result.done = std::ssize(journal.records(1));
  for (const auto& [place, record] : journal.records(1)) {
    if (record.filled)
      result.filled.push_back(place);
    else if (record.tries > 1)
      result.retried.push_back(place);
  }
  if (result.finished) journal.remove();
  return result;
}

}  // namespace jugendstil
