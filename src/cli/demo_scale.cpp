// SPDX-License-Identifier: Apache-2.0
#include "cli/demo_scale.h"

namespace jugendstil::cli {
namespace {

// From the best on. Smaller than the last a painting no longer shows what it is about.
constexpr DemoScale kPaintings[] = {{768, 2, 0, 0}, {640, 2, 0, 0}, {512, 2, 0, 0},
                                    {448, 2, 0, 0}, {384, 2, 0, 0}, {320, 2, 0, 0},
                                    {384, 1, 0, 0}, {320, 1, 0, 0}, {256, 1, 0, 0}};
struct FilmScale {
  int edge;
  int frames;
};
constexpr FilmScale kShortestFilm{256, 6};
constexpr FilmScale kFilms[] = {{480, 0},  {480, 48}, {480, 24}, {384, 24}, {384, 16},
                                {320, 16}, {320, 12}, {256, 12}, {256, 8},  kShortestFilm};

DemoScale withFilmOf(DemoScale scale, const FilmScale& film) {
  scale.filmEdge = film.edge;
  scale.frames = film.frames;
  return scale;
}

}  // namespace

double paintingSeconds(const DemoScale& scale, const DemoPace& pace) {
  return scale.photos * kDemoReferences * pace.painting(scale);
}

double secondsOf(const DemoScale& scale, const DemoPace& pace) {
  return paintingSeconds(scale, pace) + pace.grading + pace.film(scale) +
         (scale.all ? pace.learning + pace.diving : 0);
}

DemoScale withPaintings(DemoScale scale, const DemoPace& pace, double first, double whole) {
  for (const DemoScale& one : kPaintings) {
    scale.longEdge = one.longEdge;
    scale.photos = one.photos;
    const DemoScale least = withFilmOf(scale, kShortestFilm);
    if (pace.painting(scale) <= first && secondsOf(least, pace) <= whole) break;
  }
  return scale;
}

int photosWithin(DemoScale scale, const DemoPace& pace, double seconds) {
  scale.photos = 2;
  const double first = pace.painting(scale);  // which is there
  return secondsOf(withFilmOf(scale, kShortestFilm), pace) - first <= seconds ? 2 : 1;
}

bool timeForPainting(const DemoScale& scale, const DemoPace& pace, double seconds) {
  return pace.painting(scale) + pace.grading + pace.film(withFilmOf(scale, kShortestFilm)) <= seconds;
}

DemoScale withFilm(DemoScale scale, const DemoPace& pace, double seconds) {
  for (const FilmScale& one : kFilms) {
    scale = withFilmOf(scale, one);
    if (pace.film(scale) <= seconds) break;
  }
  return scale;
}

}  // namespace jugendstil::cli
