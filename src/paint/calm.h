// SPDX-License-Identifier: Apache-2.0
// Whether a painting on its way still changes visibly.
#pragma once

#include "base/state_file.h"
#include "image/image.h"

namespace jugendstil {

// How far two RGB pictures of one size are apart as they are seen: the root mean square of their distance in
// Oklab, in steps that can just be told apart, after what is finer than three pixels was smoothed away: there
// grain and strokes differ without being seen to.
double visibleChange(const Image& a, const Image& b);

// One level's. Asked after its steps, it says once that the rest would change nothing to be seen.
class Calm {
 public:
  // Steps between two looks.
  static constexpr int kEvery = 10;

  // Of the picture after so many of the level's steps, every kEvery of them: what the steps still to come
  // would change, from what the last ones did and how the pace falls, is below what is seen.
  bool look(const Image& picture, int done, int steps);

  // What it remembers, into a file or out of it.
  void exchange(StateExchange& with);

 private:
  Image before_;
};

}  // namespace jugendstil
