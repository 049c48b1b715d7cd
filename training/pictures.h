// SPDX-License-Identifier: Apache-2.0
// The pictures that training takes its photos and its references from.
#pragma once

#include <cstdint>
#include <filesystem>
#include <vector>

#include "base/state_file.h"
#include "image/image.h"

namespace training {

// In 8 bits, so that thousands fit into memory.
class Stored {
 public:
  Stored() = default;
  explicit Stored(const jugendstil::Image& rgb);
  jugendstil::Image image() const;
  int width() const { return width_; }
  int height() const { return height_; }
  // Into a state's file or out of it.
  void exchange(jugendstil::StateExchange& with);

 private:
  int width_ = 0;
  int height_ = 0;
  std::vector<std::uint8_t> values_;
};

struct Pictures {
  std::vector<Stored> photos;      // of landscapes and things
  std::vector<Stored> references;  // of surfaces and drawings
};

// All usable pictures under a folder, which holds one for each package, with long edges of `edge`: opaque
// ones of twice that size and more, none twice, no parts of interfaces and no even ones. In the order of
// their names.
Pictures picturesUnder(const std::filesystem::path& folder, int edge);

// All of a list, into a state's file or out of it.
void exchangeAll(jugendstil::StateExchange& with, std::vector<Stored>& pictures);

}  // namespace training
