#include "film/work.h"

namespace jugendstil {

void FilmWork::tell(const char* stage, std::int64_t frame, std::int64_t frames, int step, int steps,
                    double loss) const {
  if (!callbacks.progress) return;
  const FilmProgress progress{stage, frame, frames, step, steps, loss, retried, kept};
  if (!callbacks.progress(progress)) throw FilmStopped{};
}

}  // namespace jugendstil
