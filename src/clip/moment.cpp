// SPDX-License-Identifier: Apache-2.0
#include "clip/moment.h"

#include <fmt/format.h>

#include <charconv>
#include <limits>
#include <optional>

#include "base/error.h"

namespace jugendstil {
namespace {

template <typename N>
std::optional<N> parsed(std::string_view text) {
  N value{};
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  if (!(value >= 0 && value <= std::numeric_limits<N>::max())) return std::nullopt;
  return value;
}

std::optional<Moment> parseMoment(std::string_view text) {
  if (const auto frame = parsed<std::int64_t>(text)) return Moment{false, *frame, 0};
  if (text.ends_with('s')) {
    const auto seconds = parsed<double>(text.substr(0, text.size() - 1));
    return seconds ? std::optional(Moment{true, 0, *seconds}) : std::nullopt;
  }
  double seconds = 0;
  int parts = 0;
  for (;;) {
    const auto colon = text.find(':');
    const auto value = parsed<double>(text.substr(0, colon));
    if (!value || ++parts > 3) return std::nullopt;
    seconds = seconds * 60 + *value;
    if (colon == std::string_view::npos) break;
    text.remove_prefix(colon + 1);
  }
  if (parts < 2) return std::nullopt;
  return Moment{true, 0, seconds};
}

double shownAt(const ClipInfo& clip, std::int64_t frame) {
  return static_cast<double>(clip.times[frame]) * clip.timeBase.value();
}

// Whole frames that begin before a time are shown before it; the slack takes rounding of time stamps.
constexpr double kSlack = 1e-3;

}  // namespace

Moment momentOf(std::string_view name, std::string_view text) {
  const auto moment = parseMoment(text);
  if (!moment) {
    throw UsageError(
        fmt::format("{} is a frame number like 48, or a time like 2.5s or 1:04.2, not \"{}\"", name, text));
  }
  return *moment;
}

std::int64_t firstFrameFrom(const ClipInfo& clip, const Moment& moment) {
  if (!moment.isTime) return moment.frame;
  std::int64_t frame = 0;
  while (frame < static_cast<std::int64_t>(clip.times.size()) &&
         shownAt(clip, frame) < moment.seconds - kSlack)
    ++frame;
  return frame;
}

std::int64_t lastFrameTo(const ClipInfo& clip, const Moment& moment) {
  return moment.isTime ? firstFrameFrom(clip, moment) - 1 : moment.frame;
}

}  // namespace jugendstil
