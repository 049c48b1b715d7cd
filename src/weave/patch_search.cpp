// SPDX-License-Identifier: Apache-2.0
#include "weave/patch_search.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <cstring>

#include "base/number.h"
#include "base/parallel.h"
#include "image/box_mean.h"
#include "weave/dice.h"

namespace jugendstil {
namespace {

constexpr int kPatch = 6;  // samples along a side, as far apart as the nodes
constexpr int kReach = 5;  // from the centre to the first one
constexpr int kPad = kReach + 1;
constexpr int kValues = 4;  // of a sample: three planes, and how unwelcome it is
constexpr std::size_t kRow = std::size_t{kPatch} * kValues;
constexpr int kSurroundings = 12;
constexpr float kToneWeight = 0.3F;
constexpr float kChromaWeight = 0.5F;
constexpr int kFirstGuesses = 4;
constexpr float kKeeping = 0.5F;
// A place that misfits by this much is bad.
constexpr float kBad = 1;
// A hint that is not bad is held against its neighbours' places alone, in so many passes, one that asks far
// and one that asks near; then it stays until places are joined.
constexpr int kHintedPasses = 2;
// What a place costs more for each neighbour, and each one across a corner, that it does not go on from. The
// misfit of a good place is about as much. More (0.3) makes longer strokes that care less for the painting,
// less (0.03) a woollier one.
constexpr float kTorn = 0.1F;
constexpr float kTornAcross = 0.07F;
constexpr float kParting = 4 * kTorn + 4 * kTornAcross;
// How far away neighbours are asked in each pass after the first.
constexpr std::array<int, kFindingPasses - 1> kJumps{8, 1, 4, 1, 2, 1, 1, 1, 1};

struct Point {
  int x = 0;
  int y = 0;
};
constexpr std::array<Point, 8> kAround{
    {{1, 0}, {-1, 0}, {0, 1}, {0, -1}, {1, 1}, {-1, 1}, {1, -1}, {-1, -1}}};

// Written out: compilers add up the values of an array one after the other.
using Four [[gnu::vector_size(16)]] = float;
constexpr std::size_t kFour = 4;

[[gnu::always_inline]] inline Four fourAt(const float* from) {
  Four out;
  std::memcpy(&out, from, sizeof(out));
  return out;
}

// Squared, or any number from `enough` on where it is not below that: most places are out after two rows.
JUGENDSTIL_VECTORISED
float patchDistance(const float* a, std::size_t stepA, const float* b, std::size_t stepB, float enough) {
  static_assert(kPatch % 2 == 0 && kRow % (2 * kFour) == 0);
  Four even = {};
  Four odd = {};
  float sum = 0;
  for (std::size_t r = 0; r < kPatch; ++r) {
    for (std::size_t i = 0; i < kRow; i += 2 * kFour) {
      const Four d = fourAt(a + i) - fourAt(b + i);
      even += d * d;
      const Four e = fourAt(a + i + kFour) - fourAt(b + i + kFour);
      odd += e * e;
    }
    a += stepA;
    b += stepB;
    if (r % 2 == 0) continue;
    const Four both = even + odd;
    sum = (both[0] + both[2]) + (both[1] + both[3]);
    if (sum >= enough) break;
  }
  return sum;
}

bool isSettled(const PatchMatch& hinted) { return hinted.favour > 0 && hinted.cost < kBad; }

// The places that one node tries in one pass.
class Search {
 public:
  Search(const PatchGuide& target, const std::vector<PatchGuide>& sources, std::uint64_t seed)
      : target_(target),
        sources_(sources),
        seed_(seed),
        columns_(nodesAlong(target.width())),
        rows_(nodesAlong(target.height())) {}

  int columns() const { return columns_; }
  int rows() const { return rows_; }
  std::size_t nodes() const { return cellCount(columns_, rows_); }
  std::size_t node(int i, int j) const { return cellAt(i, j, columns_); }

  PatchMatch first(int i, int j, const PatchHint& hint) const {
    PatchMatch best;
    if (hint.source >= 0) {
      tryPlace(i, j, {hint.x, hint.y}, hint.source, best);
      best.favour = hint.kept * (kKeeping * best.cost + kParting * std::max(0.0F, kBad - best.cost));
    }
    if (isSettled(best)) return best;
    Dice dice = diceOf(i, j, 0);
    for (int k = 0; k < kFirstGuesses; ++k) tryAnywhere(i, j, dice, best);
    return best;
  }

  PatchMatch next(int i, int j, int pass, const std::vector<PatchMatch>& before) const {
    PatchMatch best = before[node(i, j)];
    if (isSettled(best) && pass > kHintedPasses) return best;
    const int jump = kJumps[pass - 1];
    for (const auto [dx, dy] : {Point{1, 0}, Point{-1, 0}, Point{0, 1}, Point{0, -1}}) {
      const int ni = i + jump * dx;
      const int nj = j + jump * dy;
      if (ni < 0 || nj < 0 || ni >= columns_ || nj >= rows_) continue;
      const PatchMatch& other = before[node(ni, nj)];
      tryPlace(i, j, {other.x - jump * dx * kNodeStride, other.y - jump * dy * kNodeStride}, other.source,
               best);
    }
    if (isSettled(best)) return best;
    Dice dice = diceOf(i, j, pass);
    if (sources_.size() > 1) tryAnywhere(i, j, dice, best);
    const PatchGuide& guide = sources_[best.source];
    for (int radius = std::max(guide.width(), guide.height()) / 2; radius >= 2; radius /= 3) {
      const Point near{best.x + dice.between(-radius, radius + 1),
                       best.y + dice.between(-radius, radius + 1)};
      tryPlace(i, j, near, best.source, best);
    }
    return best;
  }

  // Of its own place and those that go on from its neighbours', the one that fits and joins best.
  PatchMatch joined(int i, int j, const std::vector<PatchMatch>& all) const {
    std::array<Neighbour, kAround.size()> neighbours;
    std::size_t count = 0;
    for (const auto [dx, dy] : kAround) {
      if (i + dx < 0 || j + dy < 0 || i + dx >= columns_ || j + dy >= rows_) continue;
      const PatchMatch& there = all[node(i + dx, j + dy)];
      neighbours[count++] = {{there.x - dx * kNodeStride, there.y - dy * kNodeStride},
                             there.source,
                             dx == 0 || dy == 0 ? kTorn : kTornAcross};
    }
    const auto torn = [&](const PatchMatch& place) {
      float sum = 0;
      for (std::size_t n = 0; n < count; ++n) sum += neighbours[n].tornFrom(place);
      return sum;
    };
    PatchMatch best = all[node(i, j)];
    float least = best.cost - best.favour + torn(best);
    for (std::size_t n = 0; n < count; ++n) {
      if (neighbours[n].goesOnTo(best)) continue;  // most do, once strokes are joined
      PatchMatch place = inside(neighbours[n].goesOn, neighbours[n].source);
      const float tornThere = torn(place);
      place.cost = distance(i, j, place, least - tornThere);
      if (place.cost + tornThere < least) {
        least = place.cost + tornThere;
        best = place;
      }
    }
    return best;
  }

 private:
  struct Neighbour {
    Point goesOn;  // the place that its own one goes on to
    int source = 0;
    float cost = 0;

    bool goesOnTo(const PatchMatch& place) const {
      return place.source == source && place.x == goesOn.x && place.y == goesOn.y;
    }
    float tornFrom(const PatchMatch& place) const {
      const bool near =
          place.source == source && std::abs(place.x - goesOn.x) + std::abs(place.y - goesOn.y) <= 1;
      return near ? 0 : cost;
    }
  };

  Dice diceOf(int i, int j, int pass) const {
    return Dice((seed_ * kFindingPasses + pass) * 1000003ULL + node(i, j));
  }

  void tryAnywhere(int i, int j, Dice& dice, PatchMatch& best) const {
    const int source = dice.between(0, countOf(sources_));
    const PatchGuide& guide = sources_[source];
    const int x = dice.between(0, guide.width());
    tryPlace(i, j, {x, dice.between(0, guide.height())}, source, best);
  }

  void tryPlace(int i, int j, Point at, int source, PatchMatch& best) const {
    PatchMatch place = inside(at, source);
    // Neighbours of one stroke go on to the same place.
    if (place.x == best.x && place.y == best.y && place.source == best.source && std::isfinite(best.cost))
      return;
    const float enough = best.cost - best.favour;
    place.cost = distance(i, j, place, enough);
    if (place.cost < enough) best = place;
  }

  PatchMatch inside(Point at, int source) const {
    const PatchGuide& guide = sources_[source];
    return {std::clamp(at.x, 0, guide.width() - 1), std::clamp(at.y, 0, guide.height() - 1), source};
  }

  float distance(int i, int j, const PatchMatch& place, float enough) const {
    const PatchGuide& guide = sources_[place.source];
    return patchDistance(target_.patch(i * kNodeStride, j * kNodeStride), target_.rowStep(),
                         guide.patch(place.x, place.y), guide.rowStep(), enough);
  }

  const PatchGuide& target_;
  const std::vector<PatchGuide>& sources_;
  std::uint64_t seed_;
  int columns_;
  int rows_;
};

// Every fourth node at a time, so that none is asked while its neighbours change.
void joinAll(const Search& search, std::vector<PatchMatch>& matches) {
  for (const Point first : {Point{0, 0}, Point{1, 0}, Point{0, 1}, Point{1, 1}}) {
    parallelFor((search.rows() - first.y + 1) / 2, [&](int row) {
      const int j = 2 * row + first.y;
      for (int i = first.x; i < search.columns(); i += 2)
        matches[search.node(i, j)] = search.joined(i, j, matches);
    });
  }
}

}  // namespace

PatchGuide::PatchGuide(const Planes& opponent, const std::vector<float>& unwelcome)
    : width_(opponent.width), height_(opponent.height), half_((opponent.width + 2 * kPad + 1) / 2) {
  const std::vector<float> means = boxMeans(opponent.plane[0], width_, height_, kSurroundings);
  values_.resize(cellCount((height_ + 2 * kPad) * 2, half_) * kValues);
  parallelFor(height_ + 2 * kPad, [&](int row) {
    const int y = std::clamp(row - kPad, 0, height_ - 1);
    for (int column = 0; column < width_ + 2 * kPad; ++column) {
      const int x = std::clamp(column - kPad, 0, width_ - 1);
      const std::size_t from = cellAt(x, y, width_);
      float* to = &values_[place(column, row)];
      to[0] = opponent.plane[0][from] - (1 - kToneWeight) * means[from];
      to[1] = kChromaWeight * opponent.plane[1][from];
      to[2] = kChromaWeight * opponent.plane[2][from];
      if (!unwelcome.empty()) to[3] = unwelcome[from];
    }
  });
}

const float* PatchGuide::patch(int x, int y) const {
  return &values_[place(x + kPad - kReach, y + kPad - kReach)];
}

std::size_t PatchGuide::rowStep() const { return std::size_t{2} * kNodeStride * half_ * kValues; }

std::size_t PatchGuide::place(int column, int row) const {
  return cellAt(column / 2, row * 2 + column % 2, half_) * kValues;
}

std::vector<PatchMatch> searchPatches(const PatchGuide& target, const std::vector<PatchGuide>& sources,
                                      std::uint64_t seed, const std::function<void()>& progress,
                                      const std::vector<PatchHint>& hints) {
  PatchSearchState state;
  goOnSearching(state, target, sources, seed, progress, hints);
  return std::move(state.places);
}

void goOnSearching(PatchSearchState& state, const PatchGuide& target, const std::vector<PatchGuide>& sources,
                   std::uint64_t seed, const std::function<void()>& progress,
                   const std::vector<PatchHint>& hints) {
  const Search search(target, sources, seed);
  std::vector<PatchMatch>& matches = state.places;
  matches.resize(search.nodes());
  const auto done = [&] {
    ++state.passes;
    progress();
  };
  if (state.passes == 0) {
    parallelFor(search.rows(), [&](int j) {
      for (int i = 0; i < search.columns(); ++i) {
        const std::size_t node = search.node(i, j);
        matches[node] = search.first(i, j, hints.empty() ? PatchHint{} : hints[node]);
      }
    });
    done();
  }
  std::vector<PatchMatch> found(matches.size());
  while (state.passes < kFindingPasses) {
    parallelFor(search.rows(), [&](int j) {
      for (int i = 0; i < search.columns(); ++i)
        found[search.node(i, j)] = search.next(i, j, state.passes, matches);
    });
    matches.swap(found);
    done();
  }
  while (state.passes < kSearchPasses) {
    joinAll(search, matches);
    done();
  }
}

}  // namespace jugendstil
