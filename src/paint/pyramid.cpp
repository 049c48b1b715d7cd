// SPDX-License-Identifier: Apache-2.0
#include "paint/pyramid.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

// Enlargement by two: each new sample takes 3/4 of the nearer old one and 1/4 of the next, edges repeated.
JUGENDSTIL_VECTORISED
void blendRows(const float* near, const float* far, float* out, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) out[i] = 0.75F * near[i] + 0.25F * far[i];
}

// Adds the row enlarged to twice its length.
JUGENDSTIL_VECTORISED
void widenRow(const float* in, float* out, std::size_t n) {
  for (std::size_t i = 1; i + 1 < n; ++i) {
    out[2 * i] += 0.75F * in[i] + 0.25F * in[i - 1];
    out[2 * i + 1] += 0.75F * in[i] + 0.25F * in[i + 1];
  }
  out[0] += in[0];
  out[2 * n - 1] += in[n - 1];
  if (n > 1) {
    out[1] += 0.75F * in[0] + 0.25F * in[1];
    out[2 * n - 2] += 0.75F * in[n - 1] + 0.25F * in[n - 2];
  }
}

// The transpose of widenRow.
JUGENDSTIL_VECTORISED
void narrowRow(const float* in, float* out, std::size_t n) {
  for (std::size_t i = 1; i + 1 < n; ++i) {
    out[i] = 0.75F * (in[2 * i] + in[2 * i + 1]) + 0.25F * (in[2 * i - 1] + in[2 * i + 2]);
  }
  if (n == 1) {
    out[0] = in[0] + in[1];
    return;
  }
  out[0] = in[0] + 0.75F * in[1] + 0.25F * in[2];
  out[n - 1] = in[2 * n - 1] + 0.75F * in[2 * n - 2] + 0.25F * in[2 * n - 3];
}

JUGENDSTIL_VECTORISED
void blendFour(const float* a, const float* b, const float* before, const float* after, float* out,
               std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) out[i] = 0.75F * (a[i] + b[i]) + 0.25F * (before[i] + after[i]);
}

// out (2w x 2h) += enlarged in (w x h).
void enlargeInto(const float* in, int w, int h, float* out) {
  const std::size_t n = w;
  parallelFor(2 * h, [&](int y) {
    const int near = y / 2;
    const int far = std::clamp(y % 2 == 0 ? near - 1 : near + 1, 0, h - 1);
    std::vector<float> row(n);
    blendRows(in + near * n, in + far * n, row.data(), n);
    widenRow(row.data(), out + static_cast<std::size_t>(y) * 2 * n, n);
  });
}

// out (w x h) = transpose of enlargeInto applied to in (2w x 2h).
void reduceTransposed(const float* in, int w, int h, float* out) {
  const std::size_t n = w;
  parallelFor(h, [&](int y) {
    const auto row = [&](int r) { return in + 2 * n * r; };
    const float* before = row(y == 0 ? 0 : 2 * y - 1);
    const float* after = row(y + 1 == h ? 2 * h - 1 : 2 * y + 2);
    const float* a = row(2 * y);
    const float* b = row(2 * y + 1);
    std::vector<float> sum(2 * n);
    blendFour(a, b, before, after, sum.data(), 2 * n);
    narrowRow(sum.data(), out + y * n, n);
  });
}

// Mean over 2x2.
std::vector<float> halve(const std::vector<float>& in, int w, int h) {
  const std::size_t n = w / 2;
  std::vector<float> out(n * (h / 2));
  for (std::size_t y = 0; y < static_cast<std::size_t>(h / 2); ++y) {
    for (std::size_t x = 0; x < n; ++x) {
      const float* p = &in[2 * y * 2 * n + 2 * x];
      out[y * n + x] = 0.25F * (p[0] + p[1] + p[2 * n] + p[2 * n + 1]);
    }
  }
  return out;
}

}  // namespace

Pyramid::Pyramid(int width, int height) {
  constexpr int kMultiple = 1 << (kLevels - 1);
  if (width < kMultiple || height < kMultiple || width % kMultiple != 0 || height % kMultiple != 0) {
    throw Error(
        fmt::format("a pyramid needs sides that are multiples of {}, not {}x{}", kMultiple, width, height));
  }
  std::size_t begin = 0;
  for (int level = 0; level < kLevels; ++level) {
    const int w = width >> level;
    const int h = height >> level;
    const std::size_t area = cellCount(w, h);
    for (int plane = 0; plane < 3; ++plane) {
      ranges_.push_back({level, plane, w, h, begin, begin + area});
      begin += area;
    }
  }
}

std::vector<float> Pyramid::decompose(const Planes& opponent) const {
  std::vector<float> coefficients(size());
  for (int plane = 0; plane < 3; ++plane) {
    std::vector<float> current = opponent.plane[plane];
    for (int level = 0; level < kLevels; ++level) {
      const Range& r = range(level, plane);
      if (level + 1 == kLevels) {
        std::copy(current.begin(), current.end(), coefficients.begin() + r.begin);
        break;
      }
      const std::vector<float> smaller = halve(current, r.width, r.height);
      std::vector<float> enlarged(current.size(), 0.0F);
      enlargeInto(smaller.data(), r.width / 2, r.height / 2, enlarged.data());
      for (std::size_t i = 0; i < current.size(); ++i) coefficients[r.begin + i] = current[i] - enlarged[i];
      current = smaller;
    }
  }
  return coefficients;
}

void Pyramid::reconstruct(std::span<const float> coefficients, Planes& opponent) const {
  for (int plane = 0; plane < 3; ++plane) {
    const auto levelOf = [&](const Range& r) { return coefficients.subspan(r.begin, r.end - r.begin); };
    const auto top = levelOf(range(kLevels - 1, plane));
    std::vector<float> current(top.begin(), top.end());
    for (int level = kLevels - 2; level >= 0; --level) {
      const Range& r = range(level, plane);
      const auto own = levelOf(r);
      std::vector<float> next;
      // The finest level goes where the picture is: a large one is not needed twice.
      if (level == 0) next = std::move(opponent.plane[plane]);
      next.assign(own.begin(), own.end());
      enlargeInto(current.data(), r.width / 2, r.height / 2, next.data());
      current = std::move(next);
    }
    opponent.plane[plane] = std::move(current);
  }
}

void Pyramid::pullBackPlane(const Planes& gradient, int plane, Slopes& slopes) const {
  const float* finer = gradient.plane[plane].data();
  for (int level = 1; level < kLevels; ++level) {
    const Range& r = range(level, plane);
    std::vector<float>& own = slopes[level];
    own.resize(r.end - r.begin);
    reduceTransposed(finer, r.width, r.height, own.data());
    finer = own.data();
  }
}

void Pyramid::pullBack(const Planes& gradient, std::span<float> coefficients) const {
  Slopes slopes;
  for (int plane = 0; plane < 3; ++plane) {
    pullBackPlane(gradient, plane, slopes);
    for (int level = 0; level < kLevels; ++level) {
      const auto& from = level == 0 ? gradient.plane[plane] : slopes[level];
      std::copy(from.begin(), from.end(), coefficients.begin() + range(level, plane).begin);
    }
  }
}

}  // namespace jugendstil
