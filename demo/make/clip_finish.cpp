// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <array>
#include <cmath>
#include <filesystem>
#include <vector>

#include "base/error.h"
#include "base/parallel.h"
#include "clip/clip_writer.h"
#include "image/picture_file.h"
#include "pictures.h"

namespace demo {

namespace {

using jugendstil::Image;
namespace fs = std::filesystem;

// As in scenes/palm_house.pov: the camera's angle, its height and way a frame, the boat's way, the fog.
constexpr int kFrames = 96;
constexpr double kFogDistance = 20;
constexpr double kHalfAngle = 26 * 3.14159265358979 / 180;
constexpr std::array<double, 3> kAim{0.05, 0.012, 1};
constexpr double kEyeHeight = 1.75;
constexpr double kCameraWay = 2.3 / (kFrames - 1);
constexpr double kBoatWay = 6.4 / (kFrames - 1);
// What moves by itself is the boat where it is farther than this, else the fish, whose motion is not known.
constexpr double kBoatBehind = 8.4;
constexpr double kWaterHeight = 0.008;

using Vector = std::array<double, 3>;
double dot(const Vector& a, const Vector& b) { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; }
Vector unit(const Vector& a) {
  const double n = std::sqrt(dot(a, a));
  return {a[0] / n, a[1] / n, a[2] / n};
}

struct Camera {
  double focal;  // pixels
  double cx, cy;
  Vector right, up, aim;

  explicit Camera(const Image& frame)
      : focal(frame.width / 2.0 / std::tan(kHalfAngle)), cx(frame.width / 2.0), cy(frame.height / 2.0) {
    aim = unit(kAim);
    right = unit({aim[2], 0, -aim[0]});  // y cross aim
    up = {aim[1] * right[2] - aim[2] * right[1], aim[2] * right[0] - aim[0] * right[2],
          aim[0] * right[1] - aim[1] * right[0]};
  }
};

// One frame's geometry, by pixel: depth along the aim, height over the water.
struct Geometry {
  std::vector<double> depth;
  std::vector<double> height;
};

Geometry geometryOf(const Image& black, const Image& white, const Camera& camera) {
  Geometry g{std::vector<double>(black.area()), std::vector<double>(black.area())};
  for (int y = 0; y < black.height; ++y) {
    for (int x = 0; x < black.width; ++x) {
      double fog = 0;
      for (int c = 0; c < 3; ++c) fog += static_cast<double>(white.at(x, y, c) - black.at(x, y, c)) / 3;
      const double along = -kFogDistance * std::log(std::max(1e-7, 1 - fog));
      const double dx = x + 0.5 - camera.cx;
      const double dy = camera.cy - (y + 0.5);
      const double length = std::sqrt(dx * dx + dy * dy + camera.focal * camera.focal);
      const std::size_t i =
          static_cast<std::size_t>(y) * static_cast<std::size_t>(black.width) + static_cast<std::size_t>(x);
      g.depth[i] = along * camera.focal / length;
      g.height[i] = kEyeHeight + g.depth[i] * (dx / camera.focal * camera.right[1] +
                                               dy / camera.focal * camera.up[1] + camera.aim[1]);
    }
  }
  return g;
}

struct Mirrored {
  double depth = 0;
  bool boat = false;
};

// What the water shows are the things above it, upside down: for each row of a column below them, which is
// seen there.
template <typename IsBoat>
std::vector<Mirrored> mirroredColumn(const Geometry& g, const Camera& camera, int x, int width, int height,
                                     const IsBoat& isBoat) {
  std::vector<Mirrored> rows(static_cast<std::size_t>(height));
  for (int y = 0; y < height; ++y) {
    const std::size_t i =
        static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    if (g.height[i] <= 0.1) continue;
    const auto row = static_cast<int>(std::lround(y + 2 * camera.focal * g.height[i] / g.depth[i]));
    if (row < 0 || row >= height) continue;
    Mirrored& m = rows[static_cast<std::size_t>(row)];
    if (m.depth <= 0 || g.depth[i] < m.depth) m = {g.depth[i], isBoat(x, y)};
  }
  // Rows between two that were hit take the one above.
  Mirrored last;
  for (Mirrored& m : rows) {
    if (m.depth > 0) last = m;
    m = last;
  }
  return rows;
}

float coded(double pixels) { return static_cast<float>(std::clamp(128 + 32 * pixels, 0.0, 255.0) / 255); }

// Red: the boat's matte (1 boat, 0 not, 0.5 what moves otherwise). Green and blue: where each pixel goes in
// the next frame, (code - 128) / 32 pixels to the right and down.
Image truthOf(const Image& black, const Image& white, const Image& still) {
  const Camera camera(black);
  const Geometry g = geometryOf(black, white, camera);
  Image truth(black.width, black.height);
  jugendstil::parallelFor(black.width, [&](int x) {
    const auto moves = [&](int u, int v) {
      float change = 0;
      for (int c = 0; c < 3; ++c) change = std::max(change, std::fabs(white.at(u, v, c) - still.at(u, v, c)));
      return change > 0.004F;
    };
    const auto isBoat = [&](int u, int v) {
      return moves(u, v) && g.depth[static_cast<std::size_t>(v * black.width + u)] > kBoatBehind;
    };
    const auto mirrored = mirroredColumn(g, camera, x, black.width, black.height, isBoat);
    for (int y = 0; y < black.height; ++y) {
      const std::size_t i =
          static_cast<std::size_t>(y) * static_cast<std::size_t>(black.width) + static_cast<std::size_t>(x);
      const bool mover = moves(x, y);
      const bool boat = isBoat(x, y);
      double depth = g.depth[i];
      bool withBoat = boat;
      const Mirrored& below = mirrored[static_cast<std::size_t>(y)];
      if (!mover && std::fabs(g.height[i]) < kWaterHeight && below.depth > depth * 0.8) {
        depth = below.depth;
        withBoat = below.boat;
      }
      const Vector way = withBoat ? Vector{kBoatWay, 0, 0} : Vector{0, 0, 0};
      const double across = dot(way, camera.right) - kCameraWay;
      const double upward = dot(way, camera.up);
      const double away = dot(way, camera.aim);
      const double px = (x + 0.5 - camera.cx) * depth / camera.focal;
      const double py = (camera.cy - (y + 0.5)) * depth / camera.focal;
      const double u = camera.focal * (px + across) / (depth + away) + camera.cx - (x + 0.5);
      const double v = camera.cy - camera.focal * (py + upward) / (depth + away) - (y + 0.5);
      truth.at(x, y, 0) = boat ? 1.0F : mover ? 128.0F / 255 : 0.0F;
      truth.at(x, y, 1) = coded(u);
      truth.at(x, y, 2) = coded(v);
    }
  });
  return truth;
}

}  // namespace

void finishClip(const std::string& renders, const std::string& folder) {
  using jugendstil::ClipCodec;
  const auto pass = [&](int number, int frame) {
    char name[32];
    std::snprintf(name, sizeof name, "pass%d_%05d.png", number, frame);
    // The passes are linear and must not be taken for photographs; only their numbers count.
    return jugendstil::rgbOf(jugendstil::readPicture(fs::path(renders) / name).image);
  };
  jugendstil::ClipFormat format;
  format.codec = ClipCodec::h264;
  format.quality = 84;
  format.rate = {24, 1};
  format.timeBase = {1, 24};
  format.colour = {1, 1, 1, false};
  const Image first = pass(0, 0);
  format.width = first.width;
  format.height = first.height;
  const auto clip =
      jugendstil::createClip((fs::path(folder) / "pond.silent.mp4").string(), format, std::nullopt);
  format.codec = ClipCodec::ffv1;
  const auto truth =
      jugendstil::createClip((fs::path(folder) / "pond.truth.mkv").string(), format, std::nullopt);
  for (int i = 0; i < kFrames; ++i) {
    clip->write(photographed(pass(0, i), 900U + static_cast<unsigned>(i), ""), i);
    truth->write(truthOf(pass(1, i), pass(2, i), pass(3, i)), i);
  }
  clip->finish();
  truth->finish();
}

}  // namespace demo
