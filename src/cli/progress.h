// SPDX-License-Identifier: Apache-2.0
// Telling how far the work is: a bar on a terminal, plain lines elsewhere, JSON for other programs.
#pragma once

#include <chrono>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>

#include "paint/painter.h"

namespace jugendstil::cli {

enum class ProgressStyle { bar, lines, json, none };

// "auto" is a bar where standard error is a terminal and lines where it is not. Throws UsageError.
ProgressStyle progressStyle(const std::string& name, bool quiet);

// What every command tells other programs on its way: the part done (0 to 1), seconds gone and, where it is
// known, to go. Commands add what is theirs.
nlohmann::json progressEvent(double done, double elapsed, std::optional<double> remaining);

// "42 s", "3 min 05 s", "1 h 12 min".
std::string duration(double seconds);

class ProgressDisplay {
 public:
  explicit ProgressDisplay(ProgressStyle style);

  void show(const PaintProgress& progress);
  // Of a batch: the part of all work done (0 to 1), and how many of `all` items are finished.
  void show(double done, const char* noun, std::size_t finished, std::size_t all);
  // Of anything else: the part done, a line that says where it stands, the same for other programs.
  void show(double done, const std::string& text, const nlohmann::json& object, bool last);
  // Clears the bar, so that other lines can follow.
  void finish();
  double seconds() const;
  // The work went on for so long before the program was stopped.
  void addSeconds(double before);
  ProgressStyle style() const { return style_; }

 private:
  bool due(bool last);
  void bar(double done, const std::string& tail);
  void line(const PaintProgress& progress, double remaining) const;
  void json(const PaintProgress& progress, double remaining) const;

  using Clock = std::chrono::steady_clock;
  ProgressStyle style_;
  Clock::time_point begin_ = Clock::now();
  Clock::time_point shown_{};
  bool drawn_ = false;
};

}  // namespace jugendstil::cli
