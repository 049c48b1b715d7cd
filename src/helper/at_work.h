// SPDX-License-Identifier: Apache-2.0
// A helper's side of the conversation; for src/helper only.
#pragma once

#include "helper/asker.h"
#include "helper/exchange.h"

namespace jugendstil {

// What a message is: an answer, or what was thrown.
enum class Told : char {
  plain = 'm',
  error = 'e',
  usage = 'u',
  disk = 'd',  // what failed, a zero, the system's reason
  memory = 'n',
  thread = 't',  // the system's reason
  unknown = 'x',
};

// Works, and tells the other side what is thrown. Ends when nobody asks any more.
void workAndTell(HelperWork work, Exchange& exchange);

// Bytes of a message at most.
inline constexpr std::size_t kMostAnswer = std::size_t{4} << 30;

}  // namespace jugendstil
