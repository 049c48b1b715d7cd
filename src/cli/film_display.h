// SPDX-License-Identifier: Apache-2.0
// Telling how far a film is.
#pragma once

#include "cli/progress.h"
#include "film/film.h"

namespace jugendstil::cli {

class FilmDisplay {
 public:
  explicit FilmDisplay(ProgressStyle style) : bar_(style) {}

  void show(const FilmProgress& progress);
  void finish() { bar_.finish(); }
  double seconds() const { return bar_.seconds(); }

 private:
  ProgressDisplay bar_;
  std::string stage_;
  bool secondBegan_ = false;  // whether the run's second frame is in work
  double stageBegan_ = 0;
  std::int64_t firstFrame_ = 0;
};

}  // namespace jugendstil::cli
