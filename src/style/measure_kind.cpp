// SPDX-License-Identifier: Apache-2.0
#include "style/measure_kind.h"

#include <fmt/format.h>

#include <utility>
#include <vector>

#include "base/error.h"

namespace jugendstil {
namespace {

const std::vector<std::pair<MeasureKind, std::string>> kNames{{MeasureKind::gram, "gram"},
                                                              {MeasureKind::moments, "moments"},
                                                              {MeasureKind::sliced, "sliced"},
                                                              {MeasureKind::neighbours, "neighbours"},
                                                              {MeasureKind::critic, "critic"}};

}  // namespace

MeasureKind measureFromName(const std::string& name) {
  for (const auto& [kind, word] : kNames) {
    if (word == name) return kind;
  }
  throw UsageError(fmt::format("measure is gram, moments, sliced, neighbours or critic, not \"{}\"", name));
}

std::string nameOf(MeasureKind kind) {
  for (const auto& [known, word] : kNames) {
    if (known == kind) return word;
  }
  return {};
}

}  // namespace jugendstil
