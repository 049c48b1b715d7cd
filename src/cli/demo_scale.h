// SPDX-License-Identifier: Apache-2.0
// How large the demo is made: as large as fits into the time that one likes to wait.
#pragma once

#include <functional>

namespace jugendstil::cli {

struct DemoScale {
  int longEdge = 768;  // of the paintings
  int photos = 2;      // each is painted after each of the references
  int filmEdge = 480;  // of the clip
  int frames = 0;      // of it; 0: all
  bool all = true;     // a quick painter paints it, too, and there are dives
};

// Seconds that parts of the demo take on this machine, at that scale.
struct DemoPace {
  std::function<double(const DemoScale&)> painting;  // one
  double grading = 0;                                // the set
  std::function<double(const DemoScale&)> film;      // painted and graded
  double learning = 0;                               // and all of the clip by what has learned
  double diving = 0;
};

inline constexpr int kDemoReferences = 3;

// Of all its paintings, and of everything.
double paintingSeconds(const DemoScale& scale, const DemoPace& pace);
double secondsOf(const DemoScale& scale, const DemoPace& pace);

// Largest paintings of which the first is there within `first` seconds, and three or six of them, with the
// gradings and a short film, within `whole`; the smallest there are where nothing fits. The film is left as
// it is.
DemoScale withPaintings(DemoScale scale, const DemoPace& pace, double first, double whole);

// How many photos are painted within so many seconds from the first painting on, with the gradings and a
// short film.
int photosWithin(DemoScale scale, const DemoPace& pace, double seconds);

// Whether there is time for one painting more, gradings and a short film included.
bool timeForPainting(const DemoScale& scale, const DemoPace& pace, double seconds);

// The largest film that is made within so many seconds, or the smallest there is.
DemoScale withFilm(DemoScale scale, const DemoPace& pace, double seconds);

}  // namespace jugendstil::cli
