// SPDX-License-Identifier: Apache-2.0
// A picture amplified a little further, again and again: the frames of a film.
#pragma once

#include <functional>
#include <vector>

#include "amplify/amplify.h"
#include "amplify/settings.h"
#include "image/image.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "paint/level.h"

namespace jugendstil {

class Further {
 public:
  // For pictures of the start's size, which is the film's; the settings' bands are all that will ever be
  // asked for, and channels are chosen by the start. Everything must outlive it. Throws as planAmplifying()
  // does.
  Further(const Chain& chain, const AmplifySettings& settings, const std::vector<PaintReference>& towards,
          const Image& start);

  // A picture (RGB in [0, 1]) a little further up in those bands, by a part of what the strength (0 to 100)
  // of a single amplified photo stands for. `told` is called before each step and may throw Stopped. RGB in
  // [0, 1].
  Image go(const Image& picture, const BandWeights& bands, double strength,
           const std::function<void(int step, int steps)>& told) const;

 private:
  struct OneSize {
    LevelPlan level;
    std::vector<BandDrive> drives;  // of all bands
  };
  std::vector<BandDrive> drivesOf(const OneSize& size, const BandWeights& bands) const;

  const Chain& chain_;
  AmplifySettings settings_;
  double smallest_ = 0;
  std::vector<OneSize> sizes_;
};

// Pixel steps of one of these, for pictures that are planned so.
double furtherWork(const AmplifyPlan& plan);

}  // namespace jugendstil
