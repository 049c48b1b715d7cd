// SPDX-License-Identifier: Apache-2.0
#include "network/second_moments.h"

#include <algorithm>
#include <dnnl.hpp>

#include "base/error.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

// Chunks are long enough for a product to run at full speed, and enough to be shared out evenly.
constexpr std::size_t kShortest = 256;
constexpr std::size_t kLongest = 4096;
constexpr std::size_t kWanted = 32;

// Positions [first, first + count) as rows of all channels.
std::vector<float> rowsOf(const Buffer& a, std::size_t first, std::size_t count) {
  const Layout& layout = a.layout;
  const std::size_t channels = layout.channels;
  std::vector<float> rows(count * channels);
  for (int block = 0; block < layout.blocks; ++block) {
    const std::size_t channel = cellCount(block, layout.inner);
    const std::size_t own = std::min<std::size_t>(layout.inner, channels - channel);
    std::size_t from = layout.row(block, 0) + first * layout.inner;
    for (std::size_t p = 0; p < count; ++p, from += layout.inner) {
      float* to = &rows[p * channels + channel];
      if (a.half) {
        for (std::size_t c = 0; c < own; ++c) to[c] = fromBf16(a.bf16()[from + c]);
      } else {
        std::copy_n(a.full() + from, own, to);
      }
    }
  }
  return rows;
}

}  // namespace

std::vector<float> secondMoments(const Buffer& activation) {
  const std::size_t channels = activation.layout.channels;
  const std::size_t positions = cellCount(activation.layout.width, activation.layout.height);
  const std::size_t chunk = std::clamp(positions / kWanted, kShortest, kLongest);
  const std::size_t chunks = (positions + chunk - 1) / chunk;
  const std::size_t size = channels * channels;
  std::vector<float> parts(chunks * size);
  parallelFor(chunks, [&](std::size_t i) {
    const std::size_t first = i * chunk;
    const std::size_t count = std::min(chunk, positions - first);
    // In a parallel loop the library works on the calling thread alone.
    const std::vector<float> rows = rowsOf(activation, first, count);
    const auto c = static_cast<dnnl::memory::dim>(channels);
    const auto status = dnnl::sgemm('T', 'N', c, c, static_cast<dnnl::memory::dim>(count), 1.0F, rows.data(),
                                    c, rows.data(), c, 0.0F, &parts[i * size], c);
    if (status != dnnl::status::success)
      throw Error("a matrix product failed; is there too little memory? Try a smaller long edge");
  });
  std::vector<float> sums(parts.begin(), parts.begin() + static_cast<std::ptrdiff_t>(size));
  parallelFor(channels, [&](std::size_t row) {
    for (std::size_t i = 1; i < chunks; ++i) {
      const float* from = &parts[i * size + row * channels];
      for (std::size_t c = 0; c < channels; ++c) sums[row * channels + c] += from[c];
    }
  });
  return sums;
}

}  // namespace jugendstil
