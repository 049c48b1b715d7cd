// SPDX-License-Identifier: Apache-2.0
#include "recipe/setting_values.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <iterator>
#include <optional>

#include "base/error.h"
#include "base/words.h"

namespace jugendstil {
namespace {

template <typename N>
std::optional<N> wholeNumber(std::string_view text, N least, N most) {
  N value{};
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || value < least || value > most)
    return std::nullopt;
  return value;
}

}  // namespace

void refuseName(std::string_view name, const std::vector<std::string>& known) {
  const std::string near = nearestWord(name, known);
  throw UsageError(fmt::format("there is no setting \"{}\"{}", name,
                               near.empty() ? "" : fmt::format("; did you mean \"{}\"?", near)));
}

std::vector<std::string> unusualOf(const std::vector<SettingText>& settings) {
  std::vector<std::string> words;
  for (const SettingText& s : settings) {
    // How many processors worked says nothing of what is seen.
    if (!s.usual && s.info.name != "threads") words.push_back(fmt::format("{} {}", s.info.name, s.text));
  }
  return words;
}

double numberSetting(std::string_view name, std::string_view text, double least, double most) {
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !(value >= least && value <= most)) {
    throw UsageError(fmt::format("{} is a number from {} to {}, not \"{}\"", name, least, most, text));
  }
  return value;
}

double shareSetting(std::string_view name, std::string_view text, double most) {
  const bool percent = text.ends_with('%');
  const std::string_view number = text.substr(0, text.size() - (percent ? 1 : 0));
  double value = 0;
  const auto [end, error] = std::from_chars(number.data(), number.data() + number.size(), value);
  const bool read = error == std::errc() && end == number.data() + number.size();
  if (percent || value >= 2) value /= 100;
  if (!read || !(value >= 0 && value <= most)) {
    throw UsageError(fmt::format("{0} is a share from 0 to {1} or from 0% to {2}%, not \"{3}\"", name, most,
                                 most * 100, text));
  }
  return value;
}

double trimSetting(std::string_view text) {
  if (text == "auto") return -1;
  try {
    return shareSetting("trim", text, 0.45);
  } catch (const UsageError&) {
    throw UsageError(
        fmt::format("trim is \"auto\" or a part of each side from 0 to 0.45 (45%), not \"{}\"", text));
  }
}

std::string trimText(double trim) { return trim < 0 ? std::string("auto") : fmt::format("{}", trim); }

int wholeSetting(std::string_view name, std::string_view text, int least, int most) {
  const auto value = wholeNumber<int>(text, least, most);
  if (!value)
    throw UsageError(fmt::format("{} is a whole number from {} to {}, not \"{}\"", name, least, most, text));
  return *value;
}

std::uint64_t largeSetting(std::string_view name, std::string_view text, std::uint64_t most) {
  const auto value = wholeNumber<std::uint64_t>(text, 0, most);
  if (!value)
    throw UsageError(fmt::format("{} is a whole number from 0 to {}, not \"{}\"", name, most, text));
  return *value;
}

int wholeOrAutoSetting(std::string_view name, std::string_view text, int least, int most) {
  if (text == "auto") return 0;
  const auto value = wholeNumber<int>(text, least, most);
  if (!value) {
    throw UsageError(
        fmt::format("{} is \"auto\" or a whole number from {} to {}, not \"{}\"", name, least, most, text));
  }
  return *value;
}

std::string autoOr(int value) { return value == 0 ? "auto" : std::to_string(value); }

void refuseWord(std::string_view name, std::string_view text, const std::vector<std::string>& known) {
  const std::string list = fmt::format("{}", fmt::join(known.begin(), known.end() - 1, ", "));
  throw UsageError(fmt::format("{} is {} or {}, not \"{}\"", name, list, known.back(), text));
}

bool yesNoSetting(std::string_view name, std::string_view text) {
  if (!isYesOrNo(text)) refuseWord(name, text, {"yes", "no"});
  return text == "yes" || text == "on" || text == "true";
}

bool isYesOrNo(std::string_view text) {
  constexpr std::string_view kWords[] = {"yes", "no", "on", "off", "true", "false"};
  return std::find(std::begin(kWords), std::end(kWords), text) != std::end(kWords);
}

std::string yesNo(bool value) { return value ? "yes" : "no"; }

}  // namespace jugendstil
