// SPDX-License-Identifier: Apache-2.0
#include "weave_measures.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <opencv2/core.hpp>

#include "base/parallel.h"
#include "grade/closeness.h"
#include "grade/statistics.h"
#include "image/luma.h"
#include "network/evaluator.h"
#include "paint/canvas.h"
#include "style/units.h"

namespace bench {
namespace {

using namespace jugendstil;

constexpr int kPiece = 32;
constexpr int kCell = 8;
constexpr int kBorder = 32;

// Sums over all pairs of pixels at each shift, by the Fourier transform (Wiener & Khinchin).
cv::Mat sumsByShift(const cv::Mat& a, const cv::Mat& b) {
  cv::Mat fa;
  cv::Mat fb;
  cv::dft(a, fa);
  cv::dft(b, fb);
  cv::Mat product;
  cv::mulSpectrums(fa, fb, product, 0, true);
  cv::Mat sums;
  cv::dft(product, sums, cv::DFT_INVERSE | cv::DFT_SCALE);
  return sums;
}

// Where in the swatch a pixel of a piece comes from.
struct From {
  int x = 0;
  int y = 0;
};
From fromOf(const Grown& grown, int x, int y) {
  const Spot spot = grown.piece.at(x, y);
  const Atlas::Part& part = grown.atlas.parts.front();
  return {static_cast<int>(spot % grown.atlas.width) - part.left,
          static_cast<int>(spot / grown.atlas.width) - part.top};
}

double squaredStep(const float* a, const float* b) {
  double sum = 0;
  for (int c = 0; c < 3; ++c) sum += (static_cast<double>(a[c]) - b[c]) * (static_cast<double>(a[c]) - b[c]);
  return sum;
}

// The style bands' moments of a picture, without what the network sees of its borders.
std::vector<BandMoments> momentsOf(const Chain& chain, const Image& picture) {
  std::vector<std::size_t> bands;
  for (const std::string& name : chain.styleBands) bands.push_back(chain.bandIndex(name));
  Evaluator evaluator(chain, picture.width, picture.height, Precision::full, bands);
  const Planes shown = forwardPicture(evaluator, picture);
  std::vector<BandMoments> all;
  for (const std::size_t band : bands) {
    const BandShape shape = evaluator.shape(band);
    const int margin = kBorder / chain.bands[band].stride;
    std::vector<float> inside(shape.positions());
    for (int y = margin; y < shape.height - margin; ++y) {
      for (int x = margin; x < shape.width - margin; ++x) inside[cellAt(x, y, shape.width)] = 1;
    }
    all.push_back(evaluator.weightedMoments(band, inside));
  }
  return all;
}

// As `gram` has it: second moments about the target's means, in units of its deviations.
double gramDistance(const BandMoments& picture, const BandMoments& target) {
  const std::size_t n = target.mean.size();
  const std::vector<float> unit = channelUnits(target.gram, target.mean);
  const auto about = [&](const BandMoments& m, std::size_t i, std::size_t j) {
    return (m.gram[i * n + j] - target.mean[i] * m.mean[j] - m.mean[i] * target.mean[j] +
            static_cast<double>(target.mean[i]) * target.mean[j]) *
           unit[i] * static_cast<double>(unit[j]);
  };
  double sum = 0;
  double norm = 0;
  for (std::size_t i = 0; i < n; ++i) {
    for (std::size_t j = 0; j < n; ++j) {
      const double own = about(target, i, j);
      const double d = about(picture, i, j) - own;
      sum += d * d;
      norm += own * own;
    }
  }
  return sum / norm;
}

}  // namespace

double highestPeak(const Image& picture, int least, int most) {
  const int width = cv::getOptimalDFTSize(picture.width + most + 1);
  const int height = cv::getOptimalDFTSize(picture.height + most + 1);
  cv::Mat values = cv::Mat::zeros(height, width, CV_64F);
  cv::Mat there = cv::Mat::zeros(height, width, CV_64F);
  double mean = 0;
  for (std::size_t i = 0; i < picture.area(); ++i) mean += lumaOf(picture.pixel(i));
  mean /= static_cast<double>(picture.area());
  for (int y = 0; y < picture.height; ++y) {
    for (int x = 0; x < picture.width; ++x) {
      values.at<double>(y, x) = lumaOf(picture.pixel(cellAt(x, y, picture.width))) - mean;
      there.at<double>(y, x) = 1;
    }
  }
  const cv::Mat squares = values.mul(values);
  const cv::Mat products = sumsByShift(values, values);
  const cv::Mat ofFirst = sumsByShift(squares, there);
  const cv::Mat ofSecond = sumsByShift(there, squares);
  const auto at = [&](int dx, int dy) {
    const int column = (dx + width) % width;
    const int row = (dy + height) % height;
    return products.at<double>(row, column) /
           std::sqrt(ofFirst.at<double>(row, column) * ofSecond.at<double>(row, column));
  };
  double peak = 0;
  for (int dy = 0; dy <= most; ++dy) {
    for (int dx = -most; dx <= most; ++dx) {
      const double own = at(dx, dy);
      if (std::hypot(dx, dy) <= least || own <= peak) continue;
      bool highest = true;
      for (int v = -1; v <= 1; ++v) {
        for (int u = -1; u <= 1; ++u) highest = highest && at(dx + u, dy + v) <= own;
      }
      if (highest) peak = own;
    }
  }
  return peak;
}

std::size_t repeatedPieces(const Grown& grown) {
  const Woven& piece = grown.piece;
  const int edge = std::max(grown.atlas.parts.front().width, grown.atlas.parts.front().height);
  const auto width = static_cast<Spot>(grown.atlas.width);
  // The side of the largest square that ends at a pixel and goes on within.
  std::vector<int> sides(piece.spots.size(), 1);
  struct Whole {
    Spot spot;
    int x;
    int y;
  };
  std::vector<Whole> wholes;
  for (int y = 1; y < piece.height; ++y) {
    for (int x = 1; x < piece.width; ++x) {
      const Spot spot = piece.at(x, y);
      if (piece.at(x - 1, y) + 1 != spot || piece.at(x, y - 1) + width != spot ||
          piece.at(x - 1, y - 1) + width + 1 != spot)
        continue;
      const auto side = [&](int dx, int dy) { return sides[cellAt(x - dx, y - dy, piece.width)]; };
      const int own = 1 + std::min({side(1, 0), side(0, 1), side(1, 1)});
      sides[cellAt(x, y, piece.width)] = own;
      if (own >= kPiece) wholes.push_back({spot, x, y});
    }
  }
  std::stable_sort(wholes.begin(), wholes.end(),
                   [](const Whole& a, const Whole& b) { return a.spot < b.spot; });
  std::size_t repeated = 0;
  for (std::size_t i = 0; i < wholes.size(); ++i) {
    for (std::size_t k = i + 1; k < wholes.size() && wholes[k].spot == wholes[i].spot; ++k) {
      if (std::hypot(wholes[i].x - wholes[k].x, wholes[i].y - wholes[k].y) < edge) {
        ++repeated;
        break;
      }
    }
  }
  return repeated;
}

double mostUsed(const Grown& grown) {
  const Atlas::Part& part = grown.atlas.parts.front();
  const int across = part.width / kCell;
  const int down = part.height / kCell;
  std::vector<double> uses(cellCount(across, down));
  for (int y = 0; y < grown.piece.height; ++y) {
    for (int x = 0; x < grown.piece.width; ++x) {
      const From from = fromOf(grown, x, y);
      if (from.x / kCell < across && from.y / kCell < down)
        uses[cellAt(from.x / kCell, from.y / kCell, across)] += 1;
    }
  }
  double sum = 0;
  for (const double use : uses) sum += use;
  std::sort(uses.rbegin(), uses.rend());
  const std::size_t most = std::max<std::size_t>(1, uses.size() / 100);
  double top = 0;
  for (std::size_t i = 0; i < most; ++i) top += uses[i];
  return top / static_cast<double>(most) / (sum / static_cast<double>(uses.size()));
}

double energyAtJoins(const Grown& grown, const Image& picture, const Image& swatch, bool edge) {
  const Woven& piece = grown.piece;
  double got = 0;
  double own = 0;
  const auto add = [&](int x, int y, int nx, int ny, int dx, int dy) {
    const From a = fromOf(grown, x, y);
    const From b = fromOf(grown, nx, ny);
    if (!edge && a.x + dx == b.x && a.y + dy == b.y) return;
    const int beyondX = a.x + dx;
    const int beyondY = a.y + dy;
    const int beforeX = b.x - dx;
    const int beforeY = b.y - dy;
    if (beyondX >= swatch.width || beyondY >= swatch.height || beforeX < 0 || beforeY < 0) return;
    const auto of = [&](int u, int v) { return swatch.pixel(cellAt(u, v, swatch.width)); };
    got += squaredStep(picture.pixel(cellAt(x, y, piece.width)), picture.pixel(cellAt(nx, ny, piece.width)));
    own +=
        (squaredStep(of(a.x, a.y), of(beyondX, beyondY)) + squaredStep(of(beforeX, beforeY), of(b.x, b.y))) /
        2;
  };
  if (edge) {
    for (int y = 0; y < piece.height; ++y) add(piece.width - 1, y, 0, y, 1, 0);
    for (int x = 0; x < piece.width; ++x) add(x, piece.height - 1, x, 0, 0, 1);
    return got / own;
  }
  for (int y = 0; y < piece.height; ++y) {
    for (int x = 0; x < piece.width; ++x) {
      if (x + 1 < piece.width) add(x, y, x + 1, y, 1, 0);
      if (y + 1 < piece.height) add(x, y, x, y + 1, 0, 1);
    }
  }
  return got / own;
}

double styleRatio(const Chain& chain, const Image& picture, const Image& swatch) {
  const std::vector<BandMoments> whole = momentsOf(chain, swatch);
  const std::vector<BandMoments> got = momentsOf(chain, picture);
  const int half = swatch.width / 2;
  const std::vector<BandMoments> left = momentsOf(chain, crop(swatch, 0, 0, half, swatch.height));
  const std::vector<BandMoments> right =
      momentsOf(chain, crop(swatch, swatch.width - half, 0, half, swatch.height));
  double most = 0;
  for (std::size_t b = 0; b < got.size(); ++b) {
    most = std::max(most, gramDistance(got[b], whole[b]) / gramDistance(left[b], right[b]));
  }
  return most;
}

}  // namespace bench
