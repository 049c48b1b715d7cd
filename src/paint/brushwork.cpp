#include "paint/brushwork.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "image/error.h"
#include "image/parallel.h"
#include "image/planes.h"

namespace jugendstil {
namespace {

// Nodes of the search stand this far apart; so do the samples of a patch.
constexpr int kStride = 2;
constexpr int kPatch = 6;
// From the centre to the first sample.
constexpr int kReach = 5;
constexpr int kValues = 4;  // of a position: three planes and a 0, so that a patch's row is one vector
constexpr int kRow = kPatch * kValues;
// What lightness is taken about: the mean within this radius. A stroke is known by its shape; its tone counts
// less, its colour less again.
constexpr int kSurroundings = 12;
constexpr float kToneWeight = 0.3F;
constexpr float kChromaWeight = 0.5F;
constexpr int kLeastSide = 8;
constexpr int kFirstGuesses = 4;
// How far away neighbours are asked in each pass after the first.
constexpr std::array<int, kBrushPasses - 1> kJumps{8, 1, 4, 1, 2, 1, 1, 1, 1};
// Each node's brush-work reaches this far; a misfit of kGoodFit halves what it counts.
constexpr int kBrush = 2;
constexpr float kGoodFit = 0.02F;
constexpr float kGrain = 0.03F;

struct Point {
  int x = 0;
  int y = 0;
};

std::vector<float> surroundings(const std::vector<float>& plane, int width, int height) {
  const auto stride = static_cast<std::size_t>(width) + 1;
  std::vector<double> sums(stride * (static_cast<std::size_t>(height) + 1), 0.0);
  for (int y = 0; y < height; ++y) {
    double row = 0;
    for (int x = 0; x < width; ++x) {
      const std::size_t at = static_cast<std::size_t>(y) * stride + static_cast<std::size_t>(x);
      row += static_cast<double>(
          plane[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)]);
      sums[at + stride + 1] = sums[at + 1] + row;
    }
  }
  std::vector<float> means(plane.size());
  parallelFor(height, [&](int y) {
    const auto top = static_cast<std::size_t>(std::max(0, y - kSurroundings)) * stride;
    const auto bottom = static_cast<std::size_t>(std::min(height, y + kSurroundings + 1)) * stride;
    for (int x = 0; x < width; ++x) {
      const auto left = static_cast<std::size_t>(std::max(0, x - kSurroundings));
      const auto right = static_cast<std::size_t>(std::min(width, x + kSurroundings + 1));
      const double sum = sums[bottom + right] - sums[top + right] - sums[bottom + left] + sums[top + left];
      const auto count = static_cast<double>((right - left) * ((bottom - top) / stride));
      means[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] =
          static_cast<float>(sum / count);
    }
  });
  return means;
}

// What patches are compared by, with repeated edges around. Even and odd columns of a row stand one after the
// other: samples two pixels apart are neighbours in memory.
class Guide {
 public:
  explicit Guide(const Planes& picture)
      : width_(picture.width), height_(picture.height), half_((picture.width + 2 * kPad + 1) / 2) {
    const std::vector<float> means = surroundings(picture.plane[0], width_, height_);
    values_.resize(static_cast<std::size_t>(height_ + 2 * kPad) * 2 * static_cast<std::size_t>(half_) *
                   kValues);
    parallelFor(height_ + 2 * kPad, [&](int row) {
      const int y = std::clamp(row - kPad, 0, height_ - 1);
      for (int column = 0; column < width_ + 2 * kPad; ++column) {
        const int x = std::clamp(column - kPad, 0, width_ - 1);
        const std::size_t from =
            static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x);
        float* to = &values_[place(column, row)];
        to[0] = picture.plane[0][from] - (1 - kToneWeight) * means[from];
        to[1] = kChromaWeight * picture.plane[1][from];
        to[2] = kChromaWeight * picture.plane[2][from];
      }
    });
  }

  int width() const { return width_; }
  int height() const { return height_; }
  // The first row of the patch around a position; the next ones stand rowStep() further on.
  const float* patch(int x, int y) const { return &values_[place(x + kPad - kReach, y + kPad - kReach)]; }
  std::size_t rowStep() const { return 2 * kStride * static_cast<std::size_t>(half_) * kValues; }

 private:
  static constexpr int kPad = kReach + 1;

  std::size_t place(int column, int row) const {
    return ((static_cast<std::size_t>(row) * 2 + static_cast<std::size_t>(column % 2)) *
                static_cast<std::size_t>(half_) +
            static_cast<std::size_t>(column / 2)) *
           kValues;
  }

  int width_;
  int height_;
  int half_;
  std::vector<float> values_;
};

struct Source {
  Guide guide;
  Planes brushwork;
};

Source sourceOf(const BrushExample& example) {
  const Planes soft = opponentOf(example.soft);
  Source source{Guide(soft), opponentOf(example.fine)};
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < soft.area(); ++i) source.brushwork.plane[c][i] -= soft.plane[c][i];
  }
  return source;
}

// Where a node's brush-work comes from.
struct Match {
  int x = 0;
  int y = 0;
  int source = 0;
  float cost = std::numeric_limits<float>::infinity();
};

// Uniform numbers that depend on nothing but the seed (the generator is Knuth's MMIX).
class Dice {
 public:
  explicit Dice(std::uint64_t seed) : state_(seed * 0x9E3779B97F4A7C15ULL + 1) { next(); }
  // In [from, to).
  int between(int from, int to) { return from + static_cast<int>(next() % static_cast<unsigned>(to - from)); }

 private:
  std::uint32_t next() {
    state_ = state_ * 6364136223846793005ULL + 1442695040888963407ULL;
    return static_cast<std::uint32_t>(state_ >> 33);
  }
  std::uint64_t state_;
};

[[gnu::always_inline]] inline float patchDistance(const float* a, std::size_t stepA, const float* b,
                                                  std::size_t stepB) {
  float sums[kRow] = {};
  for (std::size_t r = 0; r < kPatch; ++r) {
    for (std::size_t i = 0; i < kRow; ++i) {
      const float d = a[r * stepA + i] - b[r * stepB + i];
      sums[i] += d * d;
    }
  }
  float sum = 0;
  for (const float s : sums) sum += s;
  return sum;
}

// The places that one node tries in one pass.
class Search {
 public:
  Search(const Guide& target, const std::vector<Source>& sources, std::uint64_t seed)
      : target_(target),
        sources_(sources),
        seed_(seed),
        columns_((target.width() + kStride - 1) / kStride),
        rows_((target.height() + kStride - 1) / kStride) {}

  int columns() const { return columns_; }
  int rows() const { return rows_; }
  std::size_t nodes() const { return static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_); }
  std::size_t node(int i, int j) const {
    return static_cast<std::size_t>(j) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(i);
  }

  Match first(int i, int j) const {
    Match best;
    Dice dice = diceOf(i, j, 0);
    for (int k = 0; k < kFirstGuesses; ++k) tryAnywhere(i, j, dice, best);
    return best;
  }

  Match next(int i, int j, int pass, const std::vector<Match>& before) const {
    Match best = before[node(i, j)];
    const int jump = kJumps[static_cast<std::size_t>(pass) - 1];
    for (const auto [dx, dy] : {Point{1, 0}, Point{-1, 0}, Point{0, 1}, Point{0, -1}}) {
      const int ni = i + jump * dx;
      const int nj = j + jump * dy;
      if (ni < 0 || nj < 0 || ni >= columns_ || nj >= rows_) continue;
      const Match& other = before[node(ni, nj)];
      tryPlace(i, j, {other.x - jump * dx * kStride, other.y - jump * dy * kStride}, other.source, best);
    }
    Dice dice = diceOf(i, j, pass);
    if (sources_.size() > 1) tryAnywhere(i, j, dice, best);
    const Guide& guide = sources_[static_cast<std::size_t>(best.source)].guide;
    for (int radius = std::max(guide.width(), guide.height()) / 2; radius >= 2; radius /= 3) {
      const Point near{best.x + dice.between(-radius, radius + 1),
                       best.y + dice.between(-radius, radius + 1)};
      tryPlace(i, j, near, best.source, best);
    }
    return best;
  }

 private:
  Dice diceOf(int i, int j, int pass) const {
    return Dice((seed_ * kBrushPasses + static_cast<std::uint64_t>(pass)) * 1000003ULL + node(i, j));
  }

  void tryAnywhere(int i, int j, Dice& dice, Match& best) const {
    const int source = dice.between(0, static_cast<int>(sources_.size()));
    const Guide& guide = sources_[static_cast<std::size_t>(source)].guide;
    const int x = dice.between(0, guide.width());
    tryPlace(i, j, {x, dice.between(0, guide.height())}, source, best);
  }

  void tryPlace(int i, int j, Point at, int source, Match& best) const {
    const Guide& guide = sources_[static_cast<std::size_t>(source)].guide;
    const int x = std::clamp(at.x, 0, guide.width() - 1);
    const int y = std::clamp(at.y, 0, guide.height() - 1);
    const float cost = patchDistance(target_.patch(i * kStride, j * kStride), target_.rowStep(),
                                     guide.patch(x, y), guide.rowStep());
    if (cost < best.cost) best = {x, y, source, cost};
  }

  const Guide& target_;
  const std::vector<Source>& sources_;
  std::uint64_t seed_;
  int columns_;
  int rows_;
};

// How much a node counts by its distance.
std::array<float, kBrush + 1> falloff() {
  std::array<float, kBrush + 1> weights{};
  for (int d = 0; d <= kBrush; ++d)
    weights[static_cast<std::size_t>(d)] = std::exp(-static_cast<float>(d * d) / (0.5F * kBrush * kBrush));
  return weights;
}

void layIn(Planes& picture, const Search& search, const std::vector<Match>& matches,
           const std::vector<Source>& sources) {
  const auto weights = falloff();
  parallelFor(picture.height, [&](int y) {
    const int top = std::max(0, (y - kBrush + kStride - 1) / kStride);
    const int bottom = std::min(search.rows() - 1, (y + kBrush) / kStride);
    for (int x = 0; x < picture.width; ++x) {
      const int left = std::max(0, (x - kBrush + kStride - 1) / kStride);
      const int right = std::min(search.columns() - 1, (x + kBrush) / kStride);
      std::array<float, 3> sum{};
      float total = 0;
      for (int j = top; j <= bottom; ++j) {
        for (int i = left; i <= right; ++i) {
          const Match& match = matches[search.node(i, j)];
          const Planes& brushwork = sources[static_cast<std::size_t>(match.source)].brushwork;
          const int dx = x - i * kStride;
          const int dy = y - j * kStride;
          const int sx = std::clamp(match.x + dx, 0, brushwork.width - 1);
          const int sy = std::clamp(match.y + dy, 0, brushwork.height - 1);
          const float weight = weights[static_cast<std::size_t>(std::abs(dx))] *
                               weights[static_cast<std::size_t>(std::abs(dy))] / (kGoodFit + match.cost);
          const std::size_t from = static_cast<std::size_t>(sy) * static_cast<std::size_t>(brushwork.width) +
                                   static_cast<std::size_t>(sx);
          for (std::size_t c = 0; c < 3; ++c) sum[c] += weight * brushwork.plane[c][from];
          total += weight;
        }
      }
      const std::size_t at =
          static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) + static_cast<std::size_t>(x);
      for (std::size_t c = 0; c < 3; ++c) picture.plane[c][at] += sum[c] / total;
    }
  });
}

}  // namespace

BrushExample brushExample(const Image& reference, double ratio) {
  const auto smaller = [&](int side) { return std::max(1, static_cast<int>(std::lround(side / ratio))); };
  const Image small = resample(reference, smaller(reference.width), smaller(reference.height));
  return {reference, resample(small, reference.width, reference.height)};
}

Image withBrushwork(const Image& soft, std::vector<BrushExample> examples, std::uint64_t seed,
                    const std::function<bool()>& progress) {
  if (examples.empty()) throw Error("brush-work needs an example to take it from");
  std::vector<Source> sources;
  for (BrushExample& example : examples) {
    if (std::min(example.fine.width, example.fine.height) < kLeastSide)
      throw Error("an example of brush-work needs at least 8 pixels a side");
    sources.push_back(sourceOf(example));
    example = {};
  }
  Planes picture = opponentOf(soft);
  const Guide target(picture);
  const Search search(target, sources, seed);
  std::vector<Match> matches(search.nodes());
  parallelFor(search.rows(), [&](int j) {
    for (int i = 0; i < search.columns(); ++i) matches[search.node(i, j)] = search.first(i, j);
  });
  if (!progress()) return soft;
  std::vector<Match> found(matches.size());
  for (int pass = 1; pass < kBrushPasses; ++pass) {
    parallelFor(search.rows(), [&](int j) {
      for (int i = 0; i < search.columns(); ++i) found[search.node(i, j)] = search.next(i, j, pass, matches);
    });
    matches.swap(found);
    if (!progress()) return soft;
  }
  layIn(picture, search, matches, sources);
  return imageOf(picture);
}

Image edgesBeyond(const Image& photo, Size smaller) {
  Image edges = resample(resample(photo, smaller.width, smaller.height), photo.width, photo.height);
  parallelFor(photo.height, [&](int y) {
    for (std::size_t i = photo.index(0, y, 0); i < photo.index(0, y + 1, 0); ++i) {
      const float d = photo.pixels[i] - edges.pixels[i];
      edges.pixels[i] = d * std::abs(d) / (std::abs(d) + kGrain);
    }
  });
  return edges;
}

}  // namespace jugendstil
