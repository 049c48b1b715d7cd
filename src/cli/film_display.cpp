// SPDX-License-Identifier: Apache-2.0
#include "cli/film_display.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <optional>

namespace jugendstil::cli {

void FilmDisplay::show(const FilmProgress& p) {
  if (p.stage != stage_) {
    stage_ = p.stage;
    stageBegan_ = seconds();
    firstFrame_ = p.frame;
    secondBegan_ = false;
  }
  // The first frame of a run is painted from nothing and takes several times as long; the pace is that of the
  // others, if there are any.
  if (!secondBegan_ && p.frame > firstFrame_) {
    secondBegan_ = true;
    stageBegan_ = seconds();
    firstFrame_ = p.frame;
  }
  const double part = p.steps > 0 ? 1.0 * p.step / p.steps : 0;
  const bool only = p.frames - firstFrame_ <= 1;
  const double made = secondBegan_ || only ? static_cast<double>(p.frame - firstFrame_) + part : 0;
  const double spent = seconds() - stageBegan_;
  const double remaining = made > 0.3 ? spent / made * (static_cast<double>(p.frames - p.frame) - part) : -1;
  const double anHour = made > 0.3 && spent > 0 ? made / spent * 3600 : 0;
  const double done =
      p.frames > 0 ? std::min(1.0, (static_cast<double>(p.frame) + part) / static_cast<double>(p.frames)) : 0;
  const bool last = p.frame >= p.frames;
  nlohmann::json object;
  if (bar_.style() == ProgressStyle::json) {
    object = progressEvent(done, seconds(), remaining < 0 ? std::nullopt : std::optional(remaining));
    object.update({{"stage", p.stage},
                   {"frame", p.frame},
                   {"frames", p.frames},
                   {"step", p.step},
                   {"steps", p.steps},
                   {"frames_an_hour", anHour},
                   {"retried", p.retried},
                   {"kept", p.kept}});
  }
  std::string text = fmt::format("{}  frame {}/{}", p.stage, std::min(p.frame + 1, p.frames), p.frames);
  if (p.steps > 0) text += fmt::format("  step {}/{}", p.step, p.steps);
  if (anHour > 0) text += fmt::format("  {:.0f} frames/h", anHour);
  text += fmt::format("  {} gone", duration(seconds()));
  if (remaining >= 0) text += fmt::format(", {} to go", duration(remaining));
  if (p.retried > 0) text += fmt::format("  {} tried again", p.retried);
  if (p.kept > 0) text += fmt::format("  ({} kept)", p.kept);
  bar_.show(done, text, object, last);
}

}  // namespace jugendstil::cli
