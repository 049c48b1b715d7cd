// SPDX-License-Identifier: Apache-2.0
// How the state of a painting is kept, so that it can go on after a stop, a crash or a power cut.
#pragma once

#include <chrono>
#include <filesystem>
#include <functional>
#include <string>

#include "base/state_file.h"

namespace jugendstil {

struct StateKeeping {
  std::filesystem::path file;  // empty: nothing is kept
  std::string making;          // text that holds everything the painting depends on
  // Between two states that are kept unasked. No more than this much work, and a step, is ever lost.
  std::chrono::seconds every{30};
  // What the caller keeps along, into the file or out of it.
  std::function<void(StateExchange&)> more;
  // After the first state was kept unasked.
  std::function<void()> begun;
};

}  // namespace jugendstil
