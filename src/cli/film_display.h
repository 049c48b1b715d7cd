// Telling how far a film is.
#pragma once

#include "cli/progress.h"
#include "film/film.h"

namespace jugendstil::cli {

class FilmDisplay {
 public:
  FilmDisplay(ProgressStyle style, bool grade) : bar_(style), grade_(grade) {}

  void show(const FilmProgress& progress);
  void finish() { bar_.finish(); }
  double seconds() const { return bar_.seconds(); }

 private:
  ProgressDisplay bar_;
  bool grade_;
  std::string stage_;
  double stageBegan_ = 0;
  std::int64_t firstFrame_ = 0;
};

}  // namespace jugendstil::cli
