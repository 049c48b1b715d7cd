// Which activations a ReLU let through, a bit each: all that the way back needs of a layer that is no band,
// at a thirty-second of its memory.
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

  // gradient = 0 where the activation was not above 0.
  void mask(const Buffer& gradient) const;

 private:
  std::size_t rowWords_ = 0;
  std::vector<std::uint32_t> words_;  // each row of the layout begins a new one
};

}  // namespace jugendstil
