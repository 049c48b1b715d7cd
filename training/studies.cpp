// SPDX-License-Identifier: Apache-2.0
#include "studies.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "brush.h"
#include "image/resample.h"
#include "noise.h"

namespace training {
namespace {

using demo::chance;
using demo::Colour;
using demo::mix;
using demo::noise;
using demo::smooth;
using jugendstil::Image;

// Draws numbers one after the other.
class Dice {
 public:
  explicit Dice(std::uint32_t seed) : seed_(seed) {}
  float operator()(float low, float high) { return low + (high - low) * chance(seed_, ++count_, 77); }
  bool often(float part) { return (*this)(0, 1) < part; }
  std::uint32_t seed() { return demo::hash(seed_, ++count_, 78); }

 private:
  std::uint32_t seed_;
  std::uint32_t count_ = 0;
};

Colour at(const Image& image, int x, int y) {
  x = std::clamp(x, 0, image.width - 1);
  y = std::clamp(y, 0, image.height - 1);
  const float* p = image.row(y) + 3 * static_cast<std::ptrdiff_t>(x);
  return {p[0], p[1], p[2]};
}
Colour at(const Image& image, float x, float y) {
  return at(image, static_cast<int>(std::lround(x)), static_cast<int>(std::lround(y)));
}

void put(Image& image, int x, int y, Colour c) {
  float* p = image.row(y) + 3 * static_cast<std::ptrdiff_t>(x);
  p[0] = std::clamp(c.r, 0.0F, 1.0F);
  p[1] = std::clamp(c.g, 0.0F, 1.0F);
  p[2] = std::clamp(c.b, 0.0F, 1.0F);
}

template <typename F>
Image made(int width, int height, const F& colour) {
  Image image(width, height, 3);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) put(image, x, y, colour(x, y));
  }
  return image;
}

float grey(Colour c) { return 0.30F * c.r + 0.59F * c.g + 0.11F * c.b; }

Image softened(const Image& image, float pixels) {
  const auto part = [&](int side) {
    return std::max(4, static_cast<int>(static_cast<float>(side) / pixels));
  };
  const Image small = jugendstil::resizePhoto(image, part(image.width), part(image.height));
  return jugendstil::resizePhoto(small, image.width, image.height);
}

// Other colours: channels mixed, contrast and brightness moved.
Image inOtherColours(const Image& photo, Dice& dice) {
  const float wild = dice.often(0.5F) ? 0.15F : 0.6F;
  std::array<std::array<float, 3>, 3> m{};
  std::array<float, 3> shift{};
  const float contrast = dice(0.75F, 1.35F);
  for (std::size_t i = 0; i < 3; ++i) {
    float sum = 0;
    for (std::size_t j = 0; j < 3; ++j) sum += m[i][j] = (i == j ? 1.0F : 0.0F) + dice(-wild, wild);
    for (float& v : m[i]) v *= contrast / std::max(0.4F, sum);
    shift[i] = 0.5F - 0.5F * contrast + dice(-0.12F, 0.12F);
  }
  return made(photo.width, photo.height, [&](int x, int y) {
    const Colour c = at(photo, x, y);
    std::array<float, 3> v{};
    for (std::size_t i = 0; i < 3; ++i) v[i] = shift[i] + m[i][0] * c.r + m[i][1] * c.g + m[i][2] * c.b;
    return Colour{v[0], v[1], v[2]};
  });
}

// Along the contours of what is broad in a picture, with eddies where there are none.
demo::Field alongContours(const Image& photo, Dice& dice) {
  const Image soft = softened(photo, dice(6, 20));
  const std::uint32_t seed = dice.seed();
  const float straight = dice(0, 3.1416F);
  const bool one = dice.often(0.25F);
  const float eddies = dice(60, 240);
  return [=](float x, float y) {
    if (one) return straight + 0.8F * (noise(x / eddies, y / eddies, seed) - 0.5F);
    const auto value = [&](float dx, float dy) { return grey(at(soft, x + dx, y + dy)); };
    const float gx = value(3, 0) - value(-3, 0);
    const float gy = value(0, 3) - value(0, -3);
    const float turn = 4 * noise(x / eddies, y / eddies, seed);
    const float weight = smooth(0.01F, 0.05F, std::hypot(gx, gy));
    const float contour = std::atan2(gy, gx) + 1.5708F;
    return weight > 0.5F ? contour : straight + turn;
  };
}

Image brushed(const Image& photo, Dice& dice) {
  const demo::Field field = alongContours(photo, dice);
  const float finest = dice(1.6F, 5);
  const float coarsest = finest * dice(1.5F, 3.5F);
  const float length = dice.often(0.2F) ? dice(0.6F, 1.5F) : dice(3, 12);
  const float jitter = dice(0.02F, 0.16F);
  demo::Canvas canvas(photo.width, photo.height,
                      at(photo, photo.width / 3, photo.height / 2) * dice(0.3F, 1));
  for (int layer = 0; layer < 3; ++layer) {
    const float width = coarsest + (finest - coarsest) * static_cast<float>(layer) / 2;
    const float spacing = width * dice(0.9F, 1.5F);
    const auto across = static_cast<int>(static_cast<float>(photo.width) / spacing) + 2;
    const auto down = static_cast<int>(static_cast<float>(photo.height) / spacing) + 2;
    std::vector<std::uint32_t> order(static_cast<std::size_t>(across) * static_cast<std::size_t>(down));
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = static_cast<std::uint32_t>(i);
    const std::uint32_t seed = dice.seed();
    std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
      return demo::hash(a, seed, 1) < demo::hash(b, seed, 1);
    });
    for (const std::uint32_t id : order) {
      const auto any = [&](std::uint32_t what) { return chance(id, seed, what); };
      demo::Stroke s;
      s.seed = demo::hash(id, seed, 2);
      s.start = {spacing * (static_cast<float>(static_cast<int>(id) % across) + any(3) - 0.5F),
                 spacing * (static_cast<float>(static_cast<int>(id) / across) + any(4) - 0.5F)};
      s.width = width * (0.7F + 0.6F * any(5));
      s.length = 2 * s.width * length * (0.6F + 0.8F * any(6));
      s.colour = at(photo, s.start.x, s.start.y) * (1 + jitter * (2 * any(7) - 1)) +
                 Colour{jitter * (any(8) - 0.5F), jitter * (any(9) - 0.5F), jitter * (any(10) - 0.5F)};
      s.load = 0.5F + any(11);
      demo::draw(canvas, s, field);
    }
  }
  return demo::lit(canvas, dice(0, 1), dice(0, 0.25F));
}

// The nearest of a few colours of the picture's own, found by going over them a few times.
class Inks {
 public:
  Inks(const Image& photo, int count, Dice& dice) {
    for (int i = 0; i < count; ++i)
      inks_.push_back(
          at(photo, dice(0, static_cast<float>(photo.width)), dice(0, static_cast<float>(photo.height))));
    for (int round = 0; round < 6; ++round) {
      std::vector<Colour> sums(inks_.size());
      std::vector<float> counts(inks_.size(), 1e-3F);
      for (int y = 0; y < photo.height; y += 3) {
        for (int x = 0; x < photo.width; x += 3) {
          const std::size_t i = nearest(at(photo, x, y));
          sums[i] = sums[i] + at(photo, x, y);
          ++counts[i];
        }
      }
      for (std::size_t i = 0; i < inks_.size(); ++i)
        if (counts[i] > 1) inks_[i] = sums[i] * (1 / counts[i]);
    }
  }
  std::size_t nearest(Colour c) const {
    std::size_t best = 0;
    float least = 100;
    for (std::size_t i = 0; i < inks_.size(); ++i) {
      const Colour d = c + inks_[i] * -1;
      const float distance = d.r * d.r + d.g * d.g + d.b * d.b;
      if (distance < least) {
        least = distance;
        best = i;
      }
    }
    return best;
  }
  Colour operator[](std::size_t i) const { return inks_[i]; }

 private:
  std::vector<Colour> inks_;
};

Image printed(const Image& photo, Dice& dice) {
  const Image soft = softened(photo, dice(2, 7));
  const Inks inks(soft, static_cast<int>(dice(2, 7.99F)), dice);
  std::vector<std::size_t> which;
  for (int y = 0; y < soft.height; ++y) {
    for (int x = 0; x < soft.width; ++x) which.push_back(inks.nearest(at(soft, x, y)));
  }
  const int outline = dice.often(0.5F) ? static_cast<int>(dice(1, 3.99F)) : 0;
  const Colour dark = Colour{dice(0, 0.2F), dice(0, 0.2F), dice(0, 0.2F)};
  const float grain = dice.often(0.5F) ? dice(0, 0.08F) : 0;
  const std::uint32_t seed = dice.seed();
  return made(photo.width, photo.height, [&](int x, int y) {
    const auto inkAt = [&](int dx, int dy) {
      const int cx = std::clamp(x + dx, 0, photo.width - 1);
      const int cy = std::clamp(y + dy, 0, photo.height - 1);
      return which[static_cast<std::size_t>(cy) * static_cast<std::size_t>(photo.width) +
                   static_cast<std::size_t>(cx)];
    };
    const std::size_t own = inkAt(0, 0);
    for (int d = 1; d <= outline; ++d) {
      if (inkAt(d, 0) != own || inkAt(0, d) != own) return dark;
    }
    const float g =
        1 + grain * (2 * chance(static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y), seed) - 1);
    return inks[own] * g;
  });
}

Image tesserae(const Image& photo, Dice& dice) {
  const float size = dice(5, 15);
  const float grout = dice(0.6F, 2);
  const float jitter = dice(0.03F, 0.2F);
  const float loose = dice(0.2F, 0.9F);
  const Colour joint = Colour{1, 0.97F, 0.92F} * dice(0.05F, 0.9F);
  const std::uint32_t seed = dice.seed();
  return made(photo.width, photo.height, [&](int x, int y) {
    const int cx = static_cast<int>(static_cast<float>(x) / size);
    const int cy = static_cast<int>(static_cast<float>(y) / size);
    float first = 1e9F;
    float second = 1e9F;
    demo::Point centre;
    std::uint32_t id = 0;
    for (int j = cy - 1; j <= cy + 1; ++j) {
      for (int i = cx - 1; i <= cx + 1; ++i) {
        const auto a = static_cast<std::uint32_t>(i + 100);
        const auto b = static_cast<std::uint32_t>(j + 100);
        const demo::Point p{size * (static_cast<float>(i) + 0.5F + loose * (chance(a, b, seed) - 0.5F)),
                            size * (static_cast<float>(j) + 0.5F + loose * (chance(a, b, seed + 1) - 0.5F))};
        const float d = std::hypot(p.x - static_cast<float>(x), p.y - static_cast<float>(y));
        if (d < first) {
          second = first;
          first = d;
          centre = p;
          id = demo::hash(a, b, seed);
        } else {
          second = std::min(second, d);
        }
      }
    }
    const Colour tile = at(photo, centre.x, centre.y) * (1 + jitter * (2 * chance(id, 5) - 1));
    return mix(joint, tile, smooth(grout - 0.6F, grout + 0.4F, second - first));
  });
}

Image hatched(const Image& photo, Dice& dice) {
  const float spacing = dice(3, 8);
  const float angle = dice(0, 3.1416F);
  const int directions = static_cast<int>(dice(1, 3.99F));
  const bool coloured = dice.often(0.4F);
  const Colour paper{dice(0.75F, 1), dice(0.75F, 1), dice(0.65F, 1)};
  const Colour ink{dice(0, 0.35F), dice(0, 0.3F), dice(0, 0.4F)};
  const float wobble = dice(0.2F, 1.4F);
  const std::uint32_t seed = dice.seed();
  const Image soft = softened(photo, 2.5F);
  return made(photo.width, photo.height, [&](int x, int y) {
    const Colour c = at(soft, x, y);
    float darkness = 1 - grey(c);
    float cover = 0;
    for (int d = 0; d < directions; ++d) {
      const float a = angle + 1.05F * static_cast<float>(d);
      const auto fx = static_cast<float>(x);
      const auto fy = static_cast<float>(y);
      const float line =
          fx * std::cos(a) + fy * std::sin(a) +
          wobble * spacing * (noise(fx / 25, fy / 25, seed + static_cast<std::uint32_t>(d)) - 0.5F);
      const float phase = line / spacing - std::floor(line / spacing);
      const float width = std::clamp(darkness * 1.15F - 0.28F * static_cast<float>(d), 0.0F, 0.95F);
      const float off = std::fabs(phase - 0.5F) * 2;
      cover = std::max(cover, smooth(width + 0.5F / spacing, width - 0.5F / spacing, off));
    }
    return mix(coloured ? mix(paper, c, 0.5F) : paper, coloured ? c * 0.4F : ink, cover);
  });
}

Image washed(const Image& photo, Dice& dice) {
  const Image soft = softened(photo, dice(3, 9));
  const Image broad = softened(photo, dice(12, 28));
  const float steps = dice(4, 9);
  const float edges = dice(0.3F, 1.4F);
  const float granules = dice(0.02F, 0.16F);
  const float grain = dice(1.5F, 5);
  const float thin = dice(0, 0.5F);
  const std::uint32_t seed = dice.seed();
  return made(photo.width, photo.height, [&](int x, int y) {
    const auto fx = static_cast<float>(x);
    const auto fy = static_cast<float>(y);
    const Colour c = at(soft, fx + 5 * (noise(fx / 17, fy / 17, seed) - 0.5F),
                        fy + 5 * (noise(fx / 17, fy / 17, seed + 1) - 0.5F));
    const float tone = grey(c) * steps;
    const float part = tone - std::floor(tone);
    const float flat = (std::floor(tone) + smooth(0.35F, 0.65F, part)) / steps;
    const float rim = std::exp(-std::fabs(part - 0.35F) * 18);
    const float paper = demo::fractal(fx / grain, fy / grain, seed + 2, 3) - 0.5F;
    const Colour wet = mix(c, at(broad, x, y), 0.35F) * ((flat + 0.05F) / (grey(c) + 0.05F));
    const Colour pale = mix(wet, Colour{0.97F, 0.96F, 0.92F}, thin);
    return pale * (1 - 0.25F * edges * rim * (1 - grey(pale))) + Colour{1, 1, 1} * (granules * paper);
  });
}

}  // namespace

Image study(const Image& photo, std::uint32_t seed) {
  Dice dice(seed);
  const Image own = dice.often(0.6F) ? inOtherColours(photo, dice) : photo;
  const float kind = dice(0, 1);
  if (kind < 0.45F) return brushed(own, dice);
  if (kind < 0.62F) return printed(own, dice);
  if (kind < 0.74F) return tesserae(own, dice);
  if (kind < 0.84F) return hatched(own, dice);
  return washed(own, dice);
}

}  // namespace training
