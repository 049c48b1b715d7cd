// SPDX-License-Identifier: Apache-2.0
// Which activations a ReLU let through, a bit each: all that the way back needs to know of them, at a
// thirty-second of their memory.
#pragma once

#include <cstdint>
#include <vector>

#include "network/kernels.h"

namespace jugendstil {

class Signs {
 public:
  Signs() = default;
  explicit Signs(const Layout& layout);

  // Notes where the activation, of the layout given, is above 0.
  void keep(const Buffer& activation);
  // The same for one row of the layout, numbered through all blocks.
  void keepRow(const float* activation, int row);
  void keepRow(const std::uint16_t* activation, int row);

  // gradient = 0 where the activation was not above 0.
  void mask(const Buffer& gradient) const;

  // Bit i % 32 of word i / 32 is that of a row's value i.
  const std::uint32_t* row(int row) const { return &words_[row * rowWords_]; }

 private:
  std::size_t rowSize_ = 0;
  std::size_t rowWords_ = 0;
  std::vector<std::uint32_t> words_;  // each row of the layout begins a new one
};

}  // namespace jugendstil
