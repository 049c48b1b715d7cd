// SPDX-License-Identifier: Apache-2.0
#include "network/product.h"

#include <algorithm>
#include <dnnl.hpp>

#include "base/error.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

// Rows that one thread multiplies at a time. Shared out by the library, sums would be cut by the number of
// threads.
constexpr std::size_t kRows = 32;

void multiply(char transposeB, std::span<const float> a, std::span<const float> b, std::size_t inner,
              std::span<float> out) {
  const std::size_t rows = a.size() / inner;
  const std::size_t columns = b.size() / inner;
  if (rows * inner != a.size() || columns * inner != b.size() || rows * columns != out.size())
    throw Error("the matrices of a product have sizes that do not agree");
  const auto n = static_cast<dnnl::memory::dim>(columns);
  const auto k = static_cast<dnnl::memory::dim>(inner);
  parallelFor((rows + kRows - 1) / kRows, [&](std::size_t i) {
    const std::size_t first = i * kRows;
    const auto m = static_cast<dnnl::memory::dim>(std::min(kRows, rows - first));
    const auto status = dnnl::sgemm('N', transposeB, m, n, k, 1.0F, a.data() + first * inner, k, b.data(),
                                    transposeB == 'T' ? k : n, 0.0F, out.data() + first * columns, n);
    if (status != dnnl::status::success)
      throw Error("a matrix product failed; is there too little memory? Try a smaller long edge");
  });
}

}  // namespace

void product(std::span<const float> a, std::span<const float> b, std::size_t inner, std::span<float> out) {
  multiply('N', a, b, inner, out);
}

void productWithTransposed(std::span<const float> a, std::span<const float> b, std::size_t inner,
                           std::span<float> out) {
  multiply('T', a, b, inner, out);
}

}  // namespace jugendstil
