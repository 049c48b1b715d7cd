// SPDX-License-Identifier: Apache-2.0
#include "cli/progress.h"

#include <fmt/format.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/number.h"
#include "cli/say.h"

namespace jugendstil::cli {
namespace {

// Before a fiftieth is done, the time to come is a guess that would only frighten.
std::optional<double> told(double done, double remaining) {
  return done < 0.02 ? std::nullopt : std::optional(remaining);
}

std::string toGo(double done, double remaining) {
  return told(done, remaining) ? fmt::format(", about {} to go", duration(remaining)) : std::string();
}

// What is painted at once has none.
std::string lossOf(const PaintProgress& progress, const char* before) {
  const double loss = progress.loss.total();
  return loss > 0 ? fmt::format("{}loss {:.4f}", before, loss) : std::string();
}

}  // namespace

nlohmann::json progressEvent(double done, double elapsed, std::optional<double> remaining) {
  // Sums of many parts may end a hair beyond the whole.
  nlohmann::json event{{"event", "progress"},
                       {"done", std::clamp(done, 0.0, 1.0)},
                       {"elapsed", elapsed},
                       {"remaining", nullptr}};
  if (remaining) event["remaining"] = std::max(0.0, *remaining);
  return event;
}

ProgressStyle progressStyle(const std::string& name, bool quiet) {
  if (name == "json") return ProgressStyle::json;
  if (name != "auto" && name != "bar" && name != "lines") {
    throw UsageError(fmt::format("--progress is auto, bar, lines or json, not \"{}\"", name));
  }
  if (quiet) return ProgressStyle::none;
  if (name == "bar") return ProgressStyle::bar;
  if (name == "lines") return ProgressStyle::lines;
  return isatty(STDERR_FILENO) != 0 ? ProgressStyle::bar : ProgressStyle::lines;
}

std::string duration(double seconds) {
  const auto s = static_cast<long>(std::lround(std::max(0.0, seconds)));
  if (s < 60) return fmt::format("{} s", s);
  if (s < 3600) return fmt::format("{} min {:02} s", s / 60, s % 60);
  return fmt::format("{} h {:02} min", s / 3600, s / 60 % 60);
}

ProgressDisplay::ProgressDisplay(ProgressStyle style) : style_(style) {}

double ProgressDisplay::seconds() const {
  return std::chrono::duration<double>(Clock::now() - begin_).count();
}

void ProgressDisplay::addSeconds(double before) {
  begin_ -= std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(before));
}

bool ProgressDisplay::due(bool last) {
  if (style_ == ProgressStyle::none) return false;
  const auto now = Clock::now();
  const double pause = style_ == ProgressStyle::lines ? 3.0 : 0.1;
  if (!last && std::chrono::duration<double>(now - shown_).count() < pause) return false;
  shown_ = now;
  return true;
}

void ProgressDisplay::show(const PaintProgress& progress) {
  if (!due(progress.level + 1 == progress.levels && progress.step == progress.steps)) return;
  const double remaining = progress.done > 0 ? seconds() * (1 - progress.done) / progress.done : 0;
  if (style_ == ProgressStyle::bar) {
    bar(progress.done,
        fmt::format("level {}/{}  {} {}/{}{}  {} gone{}", progress.level + 1, progress.levels,
                    progress.enlarging ? "brush-work" : "step", progress.step, progress.steps,
                    lossOf(progress, "  "), duration(seconds()), toGo(progress.done, remaining)));
  }
  if (style_ == ProgressStyle::lines) line(progress, remaining);
  if (style_ == ProgressStyle::json) json(progress, remaining);
}

void ProgressDisplay::show(double done, const char* noun, std::size_t finished, std::size_t all) {
  // What is done in a blink needs no lines.
  if (style_ == ProgressStyle::lines && seconds() < 3) return;
  if (!due(finished == all)) return;
  const double remaining = done > 0 ? seconds() * (1 - done) / done : 0;
  const std::string text = fmt::format("{} of {} {}{}, {} gone{}", finished, all, noun, all == 1 ? "" : "s",
                                       duration(seconds()), toGo(done, remaining));
  if (style_ == ProgressStyle::bar) bar(done, text);
  if (style_ == ProgressStyle::lines && (finished < all || all > 1)) {
    say(stderr, "{:3.0f} %  {}\n", 100 * done, text);
  }
  if (style_ != ProgressStyle::json) return;
  nlohmann::json object = progressEvent(done, seconds(), told(done, remaining));
  object.update({{"finished", finished}, {"items", all}});
  sayJson(stdout, object);
}

void ProgressDisplay::show(double done, const std::string& text, const nlohmann::json& object, bool last) {
  if (!due(last)) return;
  if (style_ == ProgressStyle::bar) bar(done, text);
  if (style_ == ProgressStyle::lines) say(stderr, "{:3.0f} %  {}\n", 100 * done, text);
  if (style_ != ProgressStyle::json) return;
  sayJson(stdout, object);
}

void ProgressDisplay::bar(double done, const std::string& rest) {
  winsize size{};
  const int columns = ioctl(STDERR_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_col > 0 ? size.ws_col : 80;
  const std::string tail = fmt::format(" {:3.0f} %  {}", 100 * done, rest);
  const int room = std::clamp(columns - countOf(tail) - 3, 0, 40);
  const int filled = rounded(room * done);
  std::string text =
      room > 4 ? fmt::format("[{:=<{}}{: <{}}]", "", filled, "", room - filled) : std::string();
  text += tail;
  text.resize(std::min(text.size(), static_cast<std::size_t>(std::max(1, columns - 1))));
  sayOver(stderr, text);
  drawn_ = true;
}

void ProgressDisplay::line(const PaintProgress& p, double remaining) const {
  say(stderr, "{:3.0f} %  level {} of {}, {} {} of {}{}, {} gone{}\n", 100 * p.done, p.level + 1, p.levels,
      p.enlarging ? "brush-work, pass" : "step", p.step, p.steps, lossOf(p, ", "), duration(seconds()),
      toGo(p.done, remaining));
}

void ProgressDisplay::json(const PaintProgress& p, double remaining) const {
  nlohmann::json object = progressEvent(p.done, seconds(), told(p.done, remaining));
  object.update({{"level", p.level + 1},
                 {"levels", p.levels},
                 {"step", p.step},
                 {"steps", p.steps},
                 {"loss", p.loss.total()},
                 {"brushwork", p.enlarging}});
  sayJson(stdout, object);
}

void ProgressDisplay::finish() {
  if (!drawn_) return;
  sayOver(stderr, {});
  drawn_ = false;
}

}  // namespace jugendstil::cli
