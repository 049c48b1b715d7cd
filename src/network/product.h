// SPDX-License-Identifier: Apache-2.0
// Products of plain row-major matrices, on oneDNN; the same for any number of threads.
#pragma once

#include <cstddef>
#include <span>

namespace jugendstil {

// out = a b: a is rows x inner, b is inner x columns, out rows x columns. Throws Error where sizes disagree
// or the product fails.
void product(std::span<const float> a, std::span<const float> b, std::size_t inner, std::span<float> out);

// out = a b^T: a is rows x inner, b is columns x inner, out rows x columns. Throws as product().
void productWithTransposed(std::span<const float> a, std::span<const float> b, std::size_t inner,
                           std::span<float> out);

}  // namespace jugendstil
