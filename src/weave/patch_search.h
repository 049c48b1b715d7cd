// SPDX-License-Identifier: Apache-2.0
// Where one picture is most like another, patch by patch. Our own: no library finds places that go on from
// one another, the same for any number of threads.
#pragma once

#include <cstdint>
#include <functional>
#include <limits>
#include <vector>

#include "image/planes.h"

namespace jugendstil {

// A picture in opponent planes as patches of it are compared: lightness about the mean of its surroundings
// (a stroke is known by its shape), with some of that mean and some chroma, and repeated edges around. Even
// and odd columns of a row stand one after the other: a patch has every second pixel of every second row, and
// these are neighbours in memory.
class PatchGuide {
 public:
  // `unwelcome` are values of each pixel, 0 and more, by which a place fits worse where the other picture has
  // none; empty: 0 everywhere.
  explicit PatchGuide(const Planes& opponent, const std::vector<float>& unwelcome = {});

  int width() const { return width_; }
  int height() const { return height_; }
  // The first row of the patch around a position; the next ones stand rowStep() further on.
  const float* patch(int x, int y) const;
  std::size_t rowStep() const;

 private:
  std::size_t place(int column, int row) const;

  int width_;
  int height_;
  int half_;
  std::vector<float> values_;
};

// The place found: a position in the source of this number, and the squared distance of the patches.
struct PatchMatch {
  int x = 0;
  int y = 0;
  int source = 0;
  float cost = std::numeric_limits<float>::infinity();
  float favour = 0;  // how much less another place has to cost: of hints only
};

// Where a node's search begins, when something is known before: a place, and how far it is to stay there. At
// kept = 1 another place has to fit twice as well, and better still where this one is not bad, because
// leaving it alone parts from all neighbours; at 0 it has to fit better. Without a source nothing is known.
struct PatchHint {
  int x = 0;
  int y = 0;
  int source = -1;
  float kept = 0;
};

// Patches are searched for at every so many positions of every so many rows: the nodes.
inline constexpr int kNodeStride = 2;
inline constexpr int nodesAlong(int side) { return (side + kNodeStride - 1) / kNodeStride; }

// Passes that look for places, and then such that join them; progress is called after each of them.
inline constexpr int kFindingPasses = 10;
inline constexpr int kJoiningPasses = 4;
inline constexpr int kSearchPasses = kFindingPasses + kJoiningPasses;

// What a search has come to after so many passes; with none it begins.
struct PatchSearchState {
  int passes = 0;
  std::vector<PatchMatch> places;
};

// For each node of the target, row by row, a place in one of the sources that is as like it as was found, and
// that goes on where its neighbours' places end: one stroke of the source stays one stroke. After each pass
// progress is called, which may throw Stopped. `hints` are one a node, or none.
//
// Places are found after Barnes, Shechtman, Finkelstein & Goldman 2009, "PatchMatch: a randomized
// correspondence algorithm", with all nodes of a pass looking at the pass before, so that threads do not
// change the result; and joined as Freeman, Jones & Pasztor 2002 ask it of neighbours, by iterated
// conditional modes (Besag 1986) over what Ashikhmin 2001, "Synthesizing natural textures", has a node choose
// among: where its neighbours' places go on.
std::vector<PatchMatch> searchPatches(const PatchGuide& target, const std::vector<PatchGuide>& sources,
                                      std::uint64_t seed, const std::function<void()>& progress,
                                      const std::vector<PatchHint>& hints = {});

// The same from a state on, which is up to date whenever progress is called; at the end it has the places.
void goOnSearching(PatchSearchState& state, const PatchGuide& target, const std::vector<PatchGuide>& sources,
                   std::uint64_t seed, const std::function<void()>& progress,
                   const std::vector<PatchHint>& hints = {});

}  // namespace jugendstil
