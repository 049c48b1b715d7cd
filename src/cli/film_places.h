// SPDX-License-Identifier: Apache-2.0
// Where films are written and where their frames are kept meanwhile: of film and of dive.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/error.h"
#include "cli/film_display.h"
#include "cli/interrupt.h"

namespace jugendstil::cli {

// Frames of a pattern that lie there already are in the way, unless this very film was stopped while it wrote
// them. Throws Error.
void requireFreeFrames(const std::string& output, const std::string& making, bool force);

// Throws Error where the work folder has frames of something else.
void requireOwnWork(const std::string& output, const std::string& making, bool force);

// What an error says, and that finished frames are kept, where they are.
std::string saidWithKept(const std::string& output, const char* what);

// What make(callbacks) gives, shown on the way and stopped by Ctrl-C; where it fails the message says that
// nothing of the work is lost.
template <typename Make>
auto withKeptFrames(const std::string& output, FilmDisplay& display, const Make& make) {
  const InterruptWatch interrupt;
  FilmCallbacks callbacks;
  callbacks.progress = [&](const FilmProgress& p) {
    display.show(p);
    interrupt.stopIfWanted();
  };
  try {
    auto result = make(callbacks);
    display.finish();
    return result;
  } catch (const UsageError&) {
    display.finish();
    throw;
  } catch (const Error& e) {
    display.finish();
    throw Error(saidWithKept(output, e.what()));
  }
}

// "3, 4, 17", cut off after a dozen.
std::string frameList(const std::vector<std::int64_t>& numbers);

}  // namespace jugendstil::cli
