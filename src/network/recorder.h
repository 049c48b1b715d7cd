// SPDX-License-Identifier: Apache-2.0
// What is filled into a band of a large picture, noted for filling it in tile by tile.
#pragma once

#include <span>
#include <variant>
#include <vector>

#include "network/evaluator.h"

namespace jugendstil {

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

}  // namespace jugendstil
