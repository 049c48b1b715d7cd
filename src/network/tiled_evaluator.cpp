// SPDX-License-Identifier: Apache-2.0
// Any size in bounded memory, exactly: statistics are sums over positions, so one pass over the tiles adds
// them up, and a second one runs each tile forward and backward against the sums. Where the plan has several
// sections, each goes over all of its tiles before the next one begins.
#include <algorithm>
#include <cstring>
#include <map>
#include <optional>
#include <set>

#include "base/number.h"
#include "network/large_memory.h"
#include "network/recorder.h"
#include "network/tiling.h"

namespace jugendstil {
namespace {

// Activations of the whole picture, or their gradient.
struct Map {
  LargeMemory storage;
  Buffer buffer;

  explicit operator bool() const { return storage != nullptr; }
};

// Uninitialised; of the layout of a window's, for a picture of so many positions.
Map mapLike(const Buffer& window, int width, int height) {
  Map map;
  map.buffer = window;
  map.buffer.layout.width = width;
  map.buffer.layout.height = height;
  map.storage = allocateLarge(bytesOf(map.buffer));
  map.buffer.data = map.storage.get();
  return map;
}

void clear(const Buffer& buffer) { std::memset(buffer.data, 0, bytesOf(buffer)); }

class TiledEvaluator final : public EvaluatorEngine {
 public:
  TiledEvaluator(const Chain& chain, int width, int height, Precision precision,
                 const std::vector<std::size_t>& bands, std::size_t budget)
      : width_(width),
        height_(height),
        precision_(precision),
        plan_(planTiles(chain, width, height, precision, bands, budget)),
        inputs_(plan_.sections.size()) {
    for (std::size_t s = 0; s < plan_.sections.size(); ++s) {
      const Section& section = plan_.sections[s];
      for (std::size_t local = 0; local < section.bands.size(); ++local) {
        const Band& band = section.chain.bands[local];
        places_[section.bands[local]] = {s, local, section.stride * band.stride, band.channels};
      }
    }
    const Tiling& first = plan_.tilings.front();
    for (auto& plane : window_) plane.resize(cellCount(first.width, first.height));
  }

  int width() const override { return width_; }
  int height() const override { return height_; }

  BandShape shape(std::size_t band) const override {
    const BandPlace& place = places_.at(band);
    return {place.channels, height_ / place.stride, width_ / place.stride};
  }

  // What was asked of passes before is answered on the way; the rest when it is asked.
  void forward(const ConstPlanes& planes) override {
    planes_ = planes;
    moments_.clear();
    distance_.reset();
    for (Map& input : inputs_) input = {};
    shown_ = false;
    for (std::size_t s = 0; s < plan_.sections.size(); ++s) {
      const auto& bands = plan_.sections[s].bands;
      const bool asked = std::any_of(bands.begin(), bands.end(), [&](std::size_t b) {
        return asked_.count(b) != 0 || (watched_.data && watchedBand_ == b);
      });
      if (asked) sweep(s);
    }
  }

  const BandMoments& moments(std::size_t band) override {
    // Asked once, asked again: from now on every forward pass answers it on its way.
    asked_.insert(band);
    if (moments_.count(band) == 0) sweep(places_.at(band).section);
    return moments_.at(band);
  }

  double squaredDistance(std::size_t band, const KeptActivation& kept) override {
    if (!distance_ || watched_.data != kept.data || watched_.weights != kept.weights ||
        watchedBand_ != band) {
      watched_ = kept;
      watchedBand_ = band;
      distance_.reset();
      sweep(places_.at(band).section);
    }
    return *distance_;
  }

  BandMoments weightedMoments(std::size_t band, std::span<const float> weights) override {
    const BandPlace& place = places_.at(band);
    BandMoments sum;
    double total = 0;
    eachTile(place.section, [&](const Tile& tile) {
      std::vector<float> own = windowOf(tile, band, weights, 1);
      clearOutsideCore(tile, band, own);
      double weight = 0;
      for (const float w : own) weight += w;
      if (weight <= 0) return;
      BandMoments part = current_->weightedMoments(place.local, own);
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
    const BandPlace& place = places_.at(band);
    const std::size_t channels = place.channels;
    std::vector<float> all(shape(band).positions() * channels);
    eachTile(place.section, [&](const Tile& tile) {
      const std::vector<float> own = current_->activations(place.local);
      eachRow(tile, band, [&](std::size_t from, std::size_t to, std::size_t count) {
        std::copy_n(&own[from * channels], count * channels, &all[to * channels]);
      });
    });
    return all;
  }

  std::vector<float> gather(std::size_t band, std::span<const int> positions) override {
    const BandPlace& place = places_.at(band);
    const std::size_t channels = place.channels;
    std::vector<float> rows(positions.size() * channels);
    eachTile(place.section, [&](const Tile& tile) {
      std::vector<std::size_t> whose;
      const std::vector<int> local = localPositions(tile, band, positions, whose);
      const std::vector<float> own = current_->gather(place.local, local);
      for (std::size_t i = 0; i < whose.size(); ++i)
        std::copy_n(&own[i * channels], channels, &rows[whose[i] * channels]);
    });
    return rows;
  }

  // Tile after tile, each with zeros outside its core.
  KeptActivation keep(std::size_t band) override {
    const BandPlace& place = places_.at(band);
    std::shared_ptr<std::byte[]> all;
    std::size_t filled = 0;
    eachTile(place.section, [&](const Tile& tile) {
      current_->clearOutside(place.local, coreOf(tile));
      const KeptActivation own = current_->keep(place.local);
      if (!all) all.reset(new std::byte[own.size * tiling().tiles.size()]);
      std::memcpy(all.get() + filled, own.data.get(), own.size);
      filled += own.size;
    });
    return {std::move(all), filled, {}};
  }

  std::vector<float> project(std::size_t band, std::span<const float> directions) override {
    const BandPlace& place = places_.at(band);
    const std::size_t count = directions.size() / place.channels;
    const std::size_t positions = shape(band).positions();
    std::vector<float> all(count * positions);
    eachTile(place.section, [&](const Tile& tile) {
      const std::vector<float> own = current_->project(place.local, directions);
      const std::size_t ownPositions = own.size() / count;
      eachRow(tile, band, [&](std::size_t from, std::size_t to, std::size_t row) {
        for (std::size_t d = 0; d < count; ++d)
          std::copy_n(&own[d * ownPositions + from], row, &all[d * positions + to]);
      });
    });
    return all;
  }

  void backward(const FillGradient& fill, const MutablePlanes& planes) override {
    for (const auto& plane : planes) std::fill(plane.begin(), plane.end(), 0.0F);
    Map arrived;
    for (std::size_t s = plan_.sections.size(); s-- > 0;) {
      arrived = backwardThrough(s, fill, arrived, planes);
      inputs_[s] = {};
    }
  }

 private:
  // Where a band is found.
  struct BandPlace {
    std::size_t section = 0;
    std::size_t local = 0;  // its number there
    int stride = 1;         // in the picture
    int channels = 0;
  };

  const Section& now() const { return plan_.sections[section_]; }
  const Tiling& tiling() const { return plan_.tilings[section_]; }

  // One section's evaluator is there at a time.
  void enter(std::size_t s) {
    if (current_ && section_ == s) return;
    section_ = s;
    current_.reset();
    std::vector<std::size_t> bands(now().bands.size());
    for (std::size_t i = 0; i < bands.size(); ++i) bands[i] = i;
    current_ = makeWholeEvaluator(now().chain, tiling().width / now().stride, tiling().height / now().stride,
                                  precision_, bands, now().handsOn);
    shown_ = false;
  }

  // Runs a tile forward; a section of one tile runs once in a pass.
  void show(const Tile& tile) {
    if (shown_ && tiling().tiles.size() == 1) return;
    if (section_ == 0) {
      for (std::size_t c = 0; c < 3; ++c) {
        for (int y = 0; y < tiling().height; ++y)
          std::copy_n(&planes_[c][pixel(tile.x, tile.y + y)], tiling().width, &window_[c][windowRow(y)]);
      }
      current_->forward({window_[0], window_[1], window_[2]});
    } else {
      const Buffer input = current_->input();
      copyWindow({input}, placeIn(inputs_[section_], tile), input.layout.width, input.layout.height);
      current_->forwardInput();
    }
    shown_ = true;
  }

  // Where a tile's window stands in the section's input.
  Window placeIn(const Map& map, const Tile& tile) const {
    return {map.buffer, tile.x / now().stride, tile.y / now().stride};
  }

  template <typename F>
  void eachTile(std::size_t s, const F& f) {
    if (s > 0 && !inputs_[s]) sweep(s - 1);
    enter(s);
    for (const Tile& tile : tiling().tiles) {
      show(tile);
      f(tile);
    }
  }

  // Calls f(position in the window, position in the picture, count) for each row of a tile's core.
  template <typename F>
  void eachRow(const Tile& tile, std::size_t band, const F& f) const {
    const int stride = places_.at(band).stride;
    const Core own = windowCore(tile).at(stride);
    const Core whole = tile.core.at(stride);
    const int ownWidth = tiling().width / stride;
    const int wholeWidth = width_ / stride;
    for (int y = 0; y < own.bottom - own.top; ++y) {
      f((own.top + y) * ownWidth + own.left, cellAt(whole.left, whole.top + y, wholeWidth),
        own.right - own.left);
    }
  }

  std::size_t pixel(int x, int y) const { return cellAt(x, y, width_); }
  std::size_t windowRow(int y) const { return cellAt(0, y, tiling().width); }

  // In pixels, and in positions of the section's input.
  static Core windowCore(const Tile& tile) {
    return {tile.core.left - tile.x, tile.core.top - tile.y, tile.core.right - tile.x,
            tile.core.bottom - tile.y};
  }
  Core coreOf(const Tile& tile) const { return windowCore(tile).at(now().stride); }

  // One pass over a section's tiles, for what is asked of its bands and not known yet, and for the next
  // section's input.
  void sweep(std::size_t s) {
    const Section& section = plan_.sections[s];
    const bool handsOn = section.pooled() && !inputs_[s + 1];
    const bool watching = watched_.data && !distance_ && places_.at(watchedBand_).section == s;
    std::map<std::size_t, BandMoments> found;  // by the band's number in the section
    for (std::size_t local = 0; local < section.bands.size(); ++local) {
      const std::size_t band = section.bands[local];
      if (asked_.count(band) != 0 && moments_.count(band) == 0) found[local];
    }
    double distance = 0;
    std::size_t index = 0;
    eachTile(s, [&](const Tile& tile) {
      if (handsOn) handOn(tile);
      for (auto& [local, sum] : found) {
        current_->clearOutside(local, coreOf(tile));
        add(sum, current_->sums(local));
      }
      if (watching) {
        const std::size_t local = places_.at(watchedBand_).local;
        current_->clearOutside(local, coreOf(tile));
        distance += current_->squaredDistance(local, partOf(watched_, index, tile, watchedBand_));
      }
      ++index;
    });
    for (auto& [local, sum] : found) {
      const std::size_t band = section.bands[local];
      scale(sum, 1.0 / shape(band).positions());
      moments_.emplace(band, std::move(sum));
    }
    if (watching) distance_ = distance;
  }

  // A tile's part of the next section's input.
  void handOn(const Tile& tile) {
    Map& next = inputs_[section_ + 1];
    const int stride = now().lastStride();
    const Buffer own = current_->pooled();
    if (!next) next = mapLike(own, width_ / stride, height_ / stride);
    takeCore(next.buffer, tile.core.at(stride), own, windowCore(tile).at(stride));
  }

  static void takeCore(const Buffer& to, const Core& there, const Buffer& from, const Core& here) {
    copyWindow({to, there.left, there.top}, {from, here.left, here.top}, here.right - here.left,
               here.bottom - here.top);
  }

  // From the gradient of what a section hands on to that of its input; of the first one's, into the planes.
  Map backwardThrough(std::size_t s, const FillGradient& fill, const Map& arrived,
                      const MutablePlanes& planes) {
    const Section& section = plan_.sections[s];
    std::vector<Recorder> filled(section.bands.size());
    for (std::size_t local = section.bands.size(); local-- > 0;) fill(section.bands[local], filled[local]);
    Map made;
    std::size_t index = 0;
    eachTile(s, [&](const Tile& tile) {
      if (section.pooled()) arrive(tile, arrived);
      const auto replay = [&](std::size_t local, BandGradient& sink) {
        for (const Recorder::Entry& entry : filled[local].entries)
          std::visit([&](const auto& e) { put(e, tile, index, section.bands[local], sink); }, entry);
      };
      const Buffer gradient = current_->backwardFrom(coreOf(tile), replay);
      if (s == 0) {
        addToPlanes(tile, gradient, planes);
      } else {
        if (!made) {
          made = mapLike(gradient, width_ / section.stride, height_ / section.stride);
          clear(made.buffer);
        }
        addWindow(placeIn(made, tile), {gradient}, gradient.layout.width, gradient.layout.height);
      }
      ++index;
    });
    return made;
  }

  // Only a tile's core takes part in the gradient that has arrived; its margin is another tile's.
  void arrive(const Tile& tile, const Map& arrived) {
    const int stride = now().lastStride();
    const Buffer own = current_->pooledGradient();
    clear(own);
    takeCore(own, windowCore(tile).at(stride), arrived.buffer, tile.core.at(stride));
  }

  static void add(BandMoments& sum, const BandMoments& part) {
    const auto addTo = [](std::vector<float>& to, const std::vector<float>& from) {
      to.resize(from.size(), 0.0F);
      for (std::size_t i = 0; i < to.size(); ++i) to[i] += from[i];
    };
    addTo(sum.gram, part.gram);
    addTo(sum.mean, part.mean);
  }

  static void scale(BandMoments& moments, double by) {
    const auto factor = static_cast<float>(by);
    for (float& v : moments.gram) v *= factor;
    for (float& v : moments.mean) v *= factor;
  }

  // Its values are no copy: they share what they are part of.
  KeptActivation partOf(const KeptActivation& all, std::size_t index, const Tile& tile,
                        std::size_t band) const {
    const std::size_t size = all.size / tiling().tiles.size();
    return {std::shared_ptr<const std::byte[]>(all.data, all.data.get() + index * size), size,
            all.weights.empty() ? std::vector<float>{} : windowOf(tile, band, all.weights, 1)};
  }

  // The window's part of so many planes over a band of the whole picture.
  std::vector<float> windowOf(const Tile& tile, std::size_t band, std::span<const float> values,
                              std::size_t planes) const {
    const int stride = places_.at(band).stride;
    const std::size_t width = tiling().width / stride;
    const std::size_t height = tiling().height / stride;
    const std::size_t wholeWidth = width_ / stride;
    const std::size_t positions = values.size() / planes;
    std::vector<float> own(planes * width * height);
    for (std::size_t p = 0; p < planes; ++p) {
      for (std::size_t y = 0; y < height; ++y) {
        const std::size_t from = (tile.y / stride + y) * wholeWidth + tile.x / stride;
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
    const int stride = places_.at(band).stride;
    const Core core = tile.core.at(stride);
    const int wholeWidth = width_ / stride;
    std::vector<int> local;
    for (std::size_t i = 0; i < positions.size(); ++i) {
      const int x = positions[i] % wholeWidth;
      const int y = positions[i] / wholeWidth;
      if (x < core.left || x >= core.right || y < core.top || y >= core.bottom) continue;
      local.push_back((y - tile.y / stride) * (tiling().width / stride) + x - tile.x / stride);
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
    const std::size_t count = e.directions.size() / shape(band).channels;
    sink.addProjected(e.directions, windowOf(tile, band, e.values, count));
  }
  void put(const Recorder::At& e, const Tile& tile, std::size_t, std::size_t band, BandGradient& sink) const {
    const std::size_t channels = shape(band).channels;
    std::vector<std::size_t> whose;
    const std::vector<int> local = localPositions(tile, band, e.positions, whose);
    std::vector<float> rows(whose.size() * channels);
    for (std::size_t i = 0; i < whose.size(); ++i)
      std::copy_n(&e.values[whose[i] * channels], channels, &rows[i * channels]);
    sink.addAt(local, rows);
  }
  void put(const Recorder::Difference& e, const Tile& tile, std::size_t index, std::size_t band,
           BandGradient& sink) const {
    sink.addDifference(partOf(e.kept, index, tile, band), e.scale);
  }

  void addToPlanes(const Tile& tile, const Buffer& gradient, const MutablePlanes& planes) {
    // The window's pixels have been used.
    current_->toPlanes(gradient, {window_[0], window_[1], window_[2]});
    for (std::size_t c = 0; c < 3; ++c) {
      for (int y = 0; y < tiling().height; ++y) {
        float* to = &planes[c][pixel(tile.x, tile.y + y)];
        const float* from = &window_[c][windowRow(y)];
        for (int x = 0; x < tiling().width; ++x) to[x] += from[x];
      }
    }
  }

  int width_;
  int height_;
  Precision precision_;
  TilePlan plan_;
  std::map<std::size_t, BandPlace> places_;  // of the bands
  ConstPlanes planes_;
  std::array<std::vector<float>, 3> window_;  // of the first section
  std::vector<Map> inputs_;                   // of the other sections, where known
  std::unique_ptr<WholeEvaluator> current_;
  std::size_t section_ = 0;  // whose that is
  bool shown_ = false;       // whether it has run in this pass
  // What every pass answers.
  std::set<std::size_t> asked_;
  std::map<std::size_t, BandMoments> moments_;
  KeptActivation watched_;
  std::size_t watchedBand_ = 0;
  std::optional<double> distance_;
};

}  // namespace

std::unique_ptr<EvaluatorEngine> makeTiledEvaluator(const Chain& chain, int width, int height,
                                                    Precision precision,
                                                    const std::vector<std::size_t>& bands,
                                                    std::size_t budget) {
  return std::make_unique<TiledEvaluator>(chain, width, height, precision, bands, budget);
}

}  // namespace jugendstil
