// SPDX-License-Identifier: Apache-2.0
#include "dive/keys.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/words.h"

namespace jugendstil {
namespace {

bool isMoment(std::string_view text) {
  try {
    momentOf("moment", text);
    return true;
  } catch (const UsageError&) {
    return false;
  }
}

double eased(double part, Ease ease) {
  if (ease == Ease::hold) return 0;
  return ease == Ease::linear ? part : part * part * (3 - 2 * part);
}

}  // namespace

Key<std::string> keyIn(std::string_view word) {
  const auto equals = word.find('=');
  if (equals == std::string_view::npos || !isMoment(word.substr(0, equals))) return {"", std::string(word)};
  return {std::string(word.substr(0, equals)), std::string(word.substr(equals + 1))};
}

Keys<std::string> keysIn(std::string_view name, std::string_view text) {
  Keys<std::string> keys;
  for (const std::string& part : splitAt(text, ';')) {
    Key<std::string> key = keyIn(trimmedWord(part));
    if (key.value.empty())
      throw UsageError(fmt::format(
          "{} is a value, or several like \"10; 2s=30\" (30 from 2 seconds on), not \"{}\"", name, text));
    keys.push_back(std::move(key));
  }
  return keys;
}

double frameAt(std::string_view moment, double rate) {
  if (moment.empty()) return 0;
  const Moment m = momentOf("moment", moment);
  return m.isTime ? m.seconds * rate : static_cast<double>(m.frame);
}

KeyPlace placeAmong(const std::vector<double>& frames, double frame, Ease ease) {
  const auto after = std::upper_bound(frames.begin(), frames.end(), frame);
  if (after == frames.begin()) return {0, 0, 0};
  const auto from = static_cast<std::size_t>(after - frames.begin()) - 1;
  if (after == frames.end()) return {from, from, 0};
  return {from, from + 1, eased((frame - frames[from]) / (*after - frames[from]), ease)};
}

std::vector<double> risingFrames(std::string_view name, const std::vector<std::string>& moments,
                                 double rate) {
  std::vector<double> frames;
  for (std::size_t i = 0; i < moments.size(); ++i) {
    frames.push_back(frameAt(moments[i], rate));
    if (i > 0 && frames[i] <= frames[i - 1])
      throw UsageError(
          fmt::format("{}: the key at {} stands behind the one at {}; keys come in order of time", name,
                      moments[i].empty() ? "0" : moments[i], moments[i - 1].empty() ? "0" : moments[i - 1]));
  }
  return frames;
}

}  // namespace jugendstil
