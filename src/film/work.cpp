// SPDX-License-Identifier: Apache-2.0
#include "film/work.h"

namespace jugendstil {

void FilmWork::tell(const char* stage, std::int64_t frame, std::int64_t frames, int step, int steps,
                    double loss) const {
  if (!callbacks.progress) return;
  callbacks.progress({stage, frame, frames, step, steps, loss, retried, kept});
}

}  // namespace jugendstil
