// Any size in bounded memory, exactly: statistics are sums over positions, so one pass over the tiles adds
// them up, and a second one runs each tile forward and backward against the sums.
#include <algorithm>
#include <map>
#include <set>
#include <variant>

#include "image/error.h"
#include "network/tiling.h"

namespace jugendstil {
namespace {

// What is to be filled into a band of the whole picture, for replaying it tile by tile.
class Recorder final : public BandGradient {
 public:
  struct Linear {
    std::vector<float> matrix;
    std::vector<float> centre;
    std::vector<float> offset;
    std::vector<float> weights;
  };
  struct Projected {
    std::vector<float> directions;
    std::vector<float> values;
  };
  struct At {
    std::vector<int> positions;
    std::vector<float> values;
  };
  struct Difference {
    KeptActivation kept;
    float scale;
  };
  using Entry = std::variant<Linear, Projected, At, Difference>;

  void addLinear(std::span<const float> matrix, std::span<const float> centre, std::span<const float> offset,
                 std::span<const float> weights) override {
    entries.emplace_back(Linear{copied(matrix), copied(centre), copied(offset), copied(weights)});
  }
  void addProjected(std::span<const float> directions, std::span<const float> values) override {
    entries.emplace_back(Projected{copied(directions), copied(values)});
  }
  void addAt(std::span<const int> positions, std::span<const float> values) override {
    entries.emplace_back(At{{positions.begin(), positions.end()}, copied(values)});
  }
  void addDifference(const KeptActivation& kept, float scale) override {
    entries.emplace_back(Difference{kept, scale});
  }

  std::vector<Entry> entries;

 private:
  static std::vector<float> copied(std::span<const float> values) { return {values.begin(), values.end()}; }
};

class TiledEvaluator final : public Evaluator::Impl {
 public:
  TiledEvaluator(const Chain& chain, int width, int height, Precision precision,
                 const std::vector<std::size_t>& bands, std::size_t budget)
      : width_(width),
        height_(height),
        tiling_(tilesFor(chain, width, height, precision, bands, budget)),
        tile_(makeWholeEvaluator(chain, tiling_.width, tiling_.height, precision, bands)) {
    for (const std::size_t b : bands) strides_[b] = chain.bands.at(b).stride;
    for (auto& plane : window_)
      plane.resize(static_cast<std::size_t>(tiling_.width) * static_cast<std::size_t>(tiling_.height));
  }

  int width() const override { return width_; }
  int height() const override { return height_; }

  BandShape shape(std::size_t band) const override {
    const int stride = strides_.at(band);
    return {tile_->shape(band).channels, height_ / stride, width_ / stride};
  }

  void forward(const ConstPlanes& planes) override {
    planes_ = planes;
    moments_.clear();
    distance_.reset();
    if (!asked_.empty() || watched_.bytes) survey(asked_);
  }

  const Evaluator::Moments& moments(std::size_t band) override {
    // Asked once, asked again: from now on every forward pass answers it on its way. The others are likely
    // to be asked next, and a pass of their own would cost more than looking at them too.
    asked_.insert(band);
    if (moments_.count(band) == 0) {
      std::set<std::size_t> all;
      for (const auto& [other, stride] : strides_) all.insert(other);
      survey(all);
    }
    return moments_.at(band);
  }

  double squaredDistance(std::size_t band, const KeptActivation& kept) override {
    if (!distance_ || watched_.bytes != kept.bytes || watchedBand_ != band) {
      watched_ = kept;
      watchedBand_ = band;
      survey(asked_);
    }
    return *distance_;
  }

  Evaluator::Moments weightedMoments(std::size_t band, std::span<const float> weights) override {
    Evaluator::Moments sum;
    double total = 0;
    eachTile([&](const Tile& tile) {
      std::vector<float> own = windowOf(tile, band, weights, 1);
      clearOutsideCore(tile, band, own);
      double weight = 0;
      for (const float w : own) weight += static_cast<double>(w);
      if (weight <= 0) return;
      Evaluator::Moments part = tile_->weightedMoments(band, own);
      const auto share = static_cast<float>(weight);
      for (float& v : part.gram) v *= share;
      for (float& v : part.mean) v *= share;
      add(sum, part);
      total += weight;
    });
    scale(sum, 1 / total);
    return sum;
  }

  std::vector<float> activations(std::size_t band) override {
    const auto channels = static_cast<std::size_t>(shape(band).channels);
    std::vector<float> all(static_cast<std::size_t>(shape(band).positions()) * channels);
    eachTile([&](const Tile& tile) {
      const std::vector<float> own = tile_->activations(band);
      eachRow(tile, band, [&](std::size_t from, std::size_t to, std::size_t count) {
        std::copy_n(&own[from * channels], count * channels, &all[to * channels]);
      });
    });
    return all;
  }

  std::vector<float> gather(std::size_t band, std::span<const int> positions) override {
    const auto channels = static_cast<std::size_t>(shape(band).channels);
    std::vector<float> rows(positions.size() * channels);
    eachTile([&](const Tile& tile) {
      std::vector<std::size_t> whose;
      const std::vector<int> local = localPositions(tile, band, positions, whose);
      const std::vector<float> own = tile_->gather(band, local);
      for (std::size_t i = 0; i < whose.size(); ++i)
        std::copy_n(&own[i * channels], channels, &rows[whose[i] * channels]);
    });
    return rows;
  }

  // Tile after tile, each with zeros outside its core.
  KeptActivation keep(std::size_t band) override {
    std::vector<std::byte> all;
    eachTile([&](const Tile& tile) {
      tile_->clearOutside(band, windowCore(tile));
      const KeptActivation own = tile_->keep(band);
      all.reserve(own.bytes->size() * tiling_.tiles.size());
      all.insert(all.end(), own.bytes->begin(), own.bytes->end());
    });
    return {std::make_shared<const std::vector<std::byte>>(std::move(all))};
  }

  std::vector<float> project(std::size_t band, std::span<const float> directions) override {
    const BandShape whole = shape(band);
    const std::size_t count = directions.size() / static_cast<std::size_t>(whole.channels);
    const auto positions = static_cast<std::size_t>(whole.positions());
    std::vector<float> all(count * positions);
    eachTile([&](const Tile& tile) {
      const std::vector<float> own = tile_->project(band, directions);
      const std::size_t ownPositions = own.size() / count;
      eachRow(tile, band, [&](std::size_t from, std::size_t to, std::size_t row) {
        for (std::size_t d = 0; d < count; ++d)
          std::copy_n(&own[d * ownPositions + from], row, &all[d * positions + to]);
      });
    });
    return all;
  }

  void backward(const Evaluator::Fill& fill, const MutablePlanes& planes) override {
    std::map<std::size_t, Recorder> filled;
    // From the deepest up, as the whole picture's evaluator asks.
    for (auto band = strides_.rbegin(); band != strides_.rend(); ++band)
      fill(band->first, filled[band->first]);
    for (const auto& plane : planes) std::fill(plane.begin(), plane.end(), 0.0F);
    std::array<std::vector<float>, 3> slope;
    for (auto& plane : slope) plane.resize(window_[0].size());
    std::size_t index = 0;
    eachTile([&](const Tile& tile) {
      const auto replay = [&](std::size_t band, BandGradient& sink) {
        for (const Recorder::Entry& entry : filled.at(band).entries)
          std::visit([&](const auto& e) { put(e, tile, index, band, sink); }, entry);
      };
      tile_->backwardFrom(windowCore(tile), replay, {slope[0], slope[1], slope[2]});
      addWindow(tile, slope, planes);
      ++index;
    });
  }

 private:
  template <typename F>
  void eachTile(const F& f) {
    for (const Tile& tile : tiling_.tiles) {
      for (std::size_t c = 0; c < 3; ++c) {
        for (int y = 0; y < tiling_.height; ++y)
          std::copy_n(&planes_[c][pixel(tile.x, tile.y + y)], tiling_.width, &window_[c][windowRow(y)]);
      }
      tile_->forward({window_[0], window_[1], window_[2]});
      f(tile);
    }
  }

  // Calls f(position in the window, position in the picture, count) for each row of a tile's core.
  template <typename F>
  void eachRow(const Tile& tile, std::size_t band, const F& f) const {
    const int stride = strides_.at(band);
    const Core own = windowCore(tile).at(stride);
    const Core whole = tile.core.at(stride);
    const int ownWidth = tiling_.width / stride;
    const int wholeWidth = width_ / stride;
    for (int y = 0; y < own.bottom - own.top; ++y) {
      f(static_cast<std::size_t>((own.top + y) * ownWidth + own.left),
        static_cast<std::size_t>(whole.top + y) * static_cast<std::size_t>(wholeWidth) +
            static_cast<std::size_t>(whole.left),
        static_cast<std::size_t>(own.right - own.left));
    }
  }

  std::size_t pixel(int x, int y) const {
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x);
  }
  std::size_t windowRow(int y) const {
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(tiling_.width);
  }

  static Core windowCore(const Tile& tile) {
    return {tile.core.left - tile.x, tile.core.top - tile.y, tile.core.right - tile.x,
            tile.core.bottom - tile.y};
  }

  // One pass over the tiles for the moments of some bands, and the distance to what is watched.
  void survey(const std::set<std::size_t>& bands) {
    for (const std::size_t band : bands) moments_[band] = {};
    double distance = 0;
    std::size_t index = 0;
    eachTile([&](const Tile& tile) {
      for (const std::size_t band : bands) {
        tile_->clearOutside(band, windowCore(tile));
        add(moments_[band], tile_->sums(band));
      }
      if (watched_.bytes) {
        tile_->clearOutside(watchedBand_, windowCore(tile));
        distance += tile_->squaredDistance(watchedBand_, partOf(watched_, index));
      }
      ++index;
    });
    for (const std::size_t band : bands) scale(moments_[band], 1.0 / shape(band).positions());
    if (watched_.bytes) distance_ = distance;
  }

  static void add(Evaluator::Moments& sum, const Evaluator::Moments& part) {
    const auto addTo = [](std::vector<float>& to, const std::vector<float>& from) {
      to.resize(from.size(), 0.0F);
      for (std::size_t i = 0; i < to.size(); ++i) to[i] += from[i];
    };
    addTo(sum.gram, part.gram);
    addTo(sum.mean, part.mean);
  }

  static void scale(Evaluator::Moments& moments, double by) {
    const auto factor = static_cast<float>(by);
    for (float& v : moments.gram) v *= factor;
    for (float& v : moments.mean) v *= factor;
  }

  KeptActivation partOf(const KeptActivation& all, std::size_t index) const {
    const std::size_t size = all.bytes->size() / tiling_.tiles.size();
    const auto begin = all.bytes->begin() + static_cast<std::ptrdiff_t>(index * size);
    return {std::make_shared<const std::vector<std::byte>>(begin, begin + static_cast<std::ptrdiff_t>(size))};
  }

  // The window's part of so many planes over a band of the whole picture.
  std::vector<float> windowOf(const Tile& tile, std::size_t band, std::span<const float> values,
                              std::size_t planes) const {
    const int stride = strides_.at(band);
    const auto width = static_cast<std::size_t>(tiling_.width / stride);
    const auto height = static_cast<std::size_t>(tiling_.height / stride);
    const auto wholeWidth = static_cast<std::size_t>(width_ / stride);
    const std::size_t positions = values.size() / planes;
    std::vector<float> own(planes * width * height);
    for (std::size_t p = 0; p < planes; ++p) {
      for (std::size_t y = 0; y < height; ++y) {
        const std::size_t from = (static_cast<std::size_t>(tile.y / stride) + y) * wholeWidth +
                                 static_cast<std::size_t>(tile.x / stride);
        std::copy_n(&values[p * positions + from], width, &own[(p * height + y) * width]);
      }
    }
    return own;
  }

  void clearOutsideCore(const Tile& tile, std::size_t band, std::vector<float>& values) const {
    std::vector<float> inside(values.size(), 0.0F);
    eachRow(tile, band, [&](std::size_t from, std::size_t, std::size_t count) {
      std::copy_n(&values[from], count, &inside[from]);
    });
    values = std::move(inside);
  }

  // Those positions that lie in the tile's core, as positions of its window; `whose` says which they were.
  std::vector<int> localPositions(const Tile& tile, std::size_t band, std::span<const int> positions,
                                  std::vector<std::size_t>& whose) const {
    const int stride = strides_.at(band);
    const Core core = tile.core.at(stride);
    const int wholeWidth = width_ / stride;
    std::vector<int> local;
    for (std::size_t i = 0; i < positions.size(); ++i) {
      const int x = positions[i] % wholeWidth;
      const int y = positions[i] / wholeWidth;
      if (x < core.left || x >= core.right || y < core.top || y >= core.bottom) continue;
      local.push_back((y - tile.y / stride) * (tiling_.width / stride) + x - tile.x / stride);
      whose.push_back(i);
    }
    return local;
  }

  void put(const Recorder::Linear& e, const Tile& tile, std::size_t, std::size_t band,
           BandGradient& sink) const {
    const std::vector<float> own =
        e.weights.empty() ? std::vector<float>{} : windowOf(tile, band, e.weights, 1);
    sink.addLinear(e.matrix, e.centre, e.offset, own);
  }
  void put(const Recorder::Projected& e, const Tile& tile, std::size_t, std::size_t band,
           BandGradient& sink) const {
    const auto count = e.directions.size() / static_cast<std::size_t>(shape(band).channels);
    sink.addProjected(e.directions, windowOf(tile, band, e.values, count));
  }
  void put(const Recorder::At& e, const Tile& tile, std::size_t, std::size_t band, BandGradient& sink) const {
    const auto channels = static_cast<std::size_t>(shape(band).channels);
    std::vector<std::size_t> whose;
    const std::vector<int> local = localPositions(tile, band, e.positions, whose);
    std::vector<float> rows(whose.size() * channels);
    for (std::size_t i = 0; i < whose.size(); ++i)
      std::copy_n(&e.values[whose[i] * channels], channels, &rows[i * channels]);
    sink.addAt(local, rows);
  }
  void put(const Recorder::Difference& e, const Tile&, std::size_t index, std::size_t,
           BandGradient& sink) const {
    sink.addDifference(partOf(e.kept, index), e.scale);
  }

  void addWindow(const Tile& tile, const std::array<std::vector<float>, 3>& slope,
                 const MutablePlanes& planes) const {
    for (std::size_t c = 0; c < 3; ++c) {
      for (int y = 0; y < tiling_.height; ++y) {
        float* to = &planes[c][pixel(tile.x, tile.y + y)];
        const float* from = &slope[c][windowRow(y)];
        for (int x = 0; x < tiling_.width; ++x) to[x] += from[x];
      }
    }
  }

  int width_;
  int height_;
  Tiling tiling_;
  std::unique_ptr<WholeEvaluator> tile_;
  std::map<std::size_t, int> strides_;  // of the bands
  ConstPlanes planes_;
  std::array<std::vector<float>, 3> window_;
  // What every pass answers.
  std::set<std::size_t> asked_;
  std::map<std::size_t, Evaluator::Moments> moments_;
  KeptActivation watched_;
  std::size_t watchedBand_ = 0;
  std::optional<double> distance_;
};

}  // namespace

std::unique_ptr<Evaluator::Impl> makeTiledEvaluator(const Chain& chain, int width, int height,
                                                    Precision precision,
                                                    const std::vector<std::size_t>& bands,
                                                    std::size_t budget) {
  return std::make_unique<TiledEvaluator>(chain, width, height, precision, bands, budget);
}

}  // namespace jugendstil
