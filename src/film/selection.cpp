#include "film/selection.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "image/error.h"

namespace jugendstil {
namespace {

struct Place {
  bool time = false;
  std::int64_t frame = 0;
  double seconds = 0;
};

template <typename N>
std::optional<N> parsed(std::string_view text) {
  N value{};
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !(value >= 0)) return std::nullopt;
  return value;
}

std::optional<Place> parsePlace(std::string_view text) {
  if (const auto frame = parsed<std::int64_t>(text)) return Place{false, *frame, 0};
  if (text.ends_with('s')) {
    const auto seconds = parsed<double>(text.substr(0, text.size() - 1));
    return seconds ? std::optional(Place{true, 0, *seconds}) : std::nullopt;
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
  return Place{true, 0, seconds};
}

Place placeFor(std::string_view name, std::string_view text) {
  const auto place = parsePlace(text);
  if (!place) {
    throw UsageError(
        fmt::format("{} is a frame number like 48, or a time like 2.5s or 1:04.2, not \"{}\"", name, text));
  }
  return *place;
}

double shownAt(const ClipInfo& clip, std::int64_t frame) {
  return static_cast<double>(clip.times[static_cast<std::size_t>(frame)]) * clip.timeBase.value();
}

// Whole frames that begin before a time are shown before it; the slack takes rounding of time stamps.
constexpr double kSlack = 1e-3;

std::int64_t firstFrom(const ClipInfo& clip, const Place& place) {
  if (!place.time) return place.frame;
  std::int64_t frame = 0;
  while (frame < static_cast<std::int64_t>(clip.times.size()) &&
         shownAt(clip, frame) < place.seconds - kSlack)
    ++frame;
  return frame;
}

std::int64_t lastTo(const ClipInfo& clip, const Place& place) {
  if (!place.time) return place.frame;
  return firstFrom(clip, place) - 1;
}

}  // namespace

void checkPlace(std::string_view name, std::string_view text) { placeFor(name, text); }

std::vector<std::int64_t> chosenFrames(const ClipInfo& clip, const FilmSettings& settings) {
  const auto count = static_cast<std::int64_t>(clip.times.size());
  const std::int64_t first = settings.from.empty() ? 0 : firstFrom(clip, placeFor("from", settings.from));
  const std::int64_t last = settings.to.empty() ? count - 1 : lastTo(clip, placeFor("to", settings.to));
  if (first >= count) {
    throw UsageError(fmt::format("from {} lies behind the end: {} has {} frames (0 to {}), {:.2f} s",
                                 settings.from, clip.path.string(), count, count - 1, clip.seconds));
  }
  if (last < first) {
    throw UsageError(
        fmt::format("nothing lies from {} to {}", settings.from.empty() ? "0" : settings.from, settings.to));
  }
  std::vector<std::int64_t> chosen;
  for (std::int64_t f = first; f <= std::min(last, count - 1); f += settings.every) {
    if (settings.frames > 0 && static_cast<int>(chosen.size()) >= settings.frames) break;
    chosen.push_back(f);
  }
  return chosen;
}

}  // namespace jugendstil
