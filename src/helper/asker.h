// SPDX-License-Identifier: Apache-2.0
// What a helper does, and for whom.
#pragma once

#include <string>
#include <string_view>

namespace jugendstil {

// What a helper sees of whoever asks it. What its work throws reaches the asker as the same kind of Error.
class Asker {
 public:
  virtual ~Asker() = default;
  // The next question. Throws where there is none any more, which ends the work.
  virtual std::string next() = 0;
  virtual void answer(std::string_view bytes) = 0;
};

// What a helper does: it answers questions until there are no more. A function alone, without surroundings.
using HelperWork = void (*)(Asker&);

}  // namespace jugendstil
