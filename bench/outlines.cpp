// SPDX-License-Identifier: Apache-2.0
#include "outlines.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/number.h"
#include "grade/closeness.h"
#include "image/display_oklab.h"
#include "image/resample.h"

namespace bench {
namespace {

using namespace jugendstil;

constexpr int kLongEdge = 320;
constexpr double kTolerance = 0.01;  // of the long edge
constexpr double kSoft = 0.005;      // of it: strokes are no outlines
// Pieces grow as far as differences of CIE Lab inside them and this over their pixels allow.
constexpr double kJoining = 40;
constexpr int kLeastPiece = 20;  // pixels
constexpr int kAreas = 10;
// In pixels: how far a step is looked for, what is taken on both sides of it, and on both sides along it.
constexpr int kSearched = 16;
constexpr int kBeside = 5;
constexpr int kAlong = 4;

// CIE Lab, softened.
cv::Mat labOf(const Image& picture) {
  cv::Mat lab(picture.height, picture.width, CV_32FC3);
  for (int y = 0; y < picture.height; ++y) {
    for (int x = 0; x < picture.width; ++x) {
      const float* p = picture.row(y) + 3 * x;
      const CieLab own = cieLabOf(oklabOfDisplay({p[0], p[1], p[2]}));
      lab.at<cv::Vec3f>(y, x) = {static_cast<float>(own.lightness), static_cast<float>(own.a),
                                 static_cast<float>(own.b)};
    }
  }
  cv::GaussianBlur(lab, lab, {}, kSoft * kLongEdge);
  return lab;
}

struct Edge {
  int from;
  int to;
  float weight;
};

// Sets of pixels that are joined one by one.
class Forest {
 public:
  explicit Forest(int count) : parent_(count), size_(count, 1), inside_(count, 0) {
    std::iota(parent_.begin(), parent_.end(), 0);
  }
  int rootOf(int i) {
    while (parent_[i] != i) i = parent_[i] = parent_[parent_[i]];
    return i;
  }
  int sizeOf(int root) const { return size_[root]; }
  double looseness(int root) const { return inside_[root] + kJoining / size_[root]; }
  void join(int a, int b, float weight) {
    parent_[b] = a;
    size_[a] += size_[b];
    inside_[a] = weight;
  }

 private:
  std::vector<int> parent_;
  std::vector<int> size_;
  std::vector<double> inside_;
};

// The smallest pieces that are areas at all.
cv::Mat piecesOf(const cv::Mat& lab) {
  const int width = lab.cols;
  std::vector<Edge> edges;
  const auto add = [&](int y, int x, int v, int u) {
    if (v >= lab.rows || u < 0 || u >= width) return;
    edges.push_back({y * width + x, v * width + u,
                     static_cast<float>(cv::norm(lab.at<cv::Vec3f>(y, x) - lab.at<cv::Vec3f>(v, u)))});
  };
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < width; ++x) {
      add(y, x, y, x + 1);
      add(y, x, y + 1, x);
      add(y, x, y + 1, x + 1);
      add(y, x, y + 1, x - 1);
    }
  }
  std::sort(edges.begin(), edges.end(), [](const Edge& a, const Edge& b) { return a.weight < b.weight; });
  Forest forest(lab.rows * width);
  for (const Edge& e : edges) {
    const int a = forest.rootOf(e.from);
    const int b = forest.rootOf(e.to);
    if (a != b && e.weight <= std::min(forest.looseness(a), forest.looseness(b))) forest.join(a, b, e.weight);
  }
  for (const Edge& e : edges) {
    const int a = forest.rootOf(e.from);
    const int b = forest.rootOf(e.to);
    if (a != b && std::min(forest.sizeOf(a), forest.sizeOf(b)) < kLeastPiece) forest.join(a, b, e.weight);
  }
  cv::Mat pieces(lab.rows, width, CV_32S);
  for (int i = 0; i < lab.rows * width; ++i) pieces.at<int>(i / width, i % width) = forest.rootOf(i);
  return pieces;
}

struct Area {
  double size = 0;
  cv::Vec3d sum;
  std::map<int, double> borders;  // length of each, by neighbour
};

// Pieces joined, those first that are least worth their border, until ten are left; numbered from 1.
cv::Mat areasOf(const cv::Mat& lab) {
  cv::Mat pieces = piecesOf(lab);
  std::map<int, Area> areas;
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      const int own = pieces.at<int>(y, x);
      areas[own].size += 1;
      areas[own].sum += lab.at<cv::Vec3f>(y, x);
      const auto meet = [&](int other) {
        if (other == own) return;
        areas[own].borders[other] += 1;
        areas[other].borders[own] += 1;
      };
      if (x + 1 < lab.cols) meet(pieces.at<int>(y, x + 1));
      if (y + 1 < lab.rows) meet(pieces.at<int>(y + 1, x));
    }
  }
  while (std::ssize(areas) > kAreas) {
    std::pair<int, int> least;
    double worth = std::numeric_limits<double>::infinity();
    for (const auto& [name, area] : areas) {
      for (const auto& [other, length] : area.borders) {
        if (other < name) continue;
        const Area& beside = areas.at(other);
        const cv::Vec3d apart = area.sum / area.size - beside.sum / beside.size;
        const double own = area.size * beside.size / (area.size + beside.size) * apart.dot(apart) / length;
        if (own < worth) {
          worth = own;
          least = {name, other};
        }
      }
    }
    Area& to = areas.at(least.first);
    const Area from = areas.at(least.second);
    to.size += from.size;
    to.sum += from.sum;
    for (const auto& [other, length] : from.borders) {
      areas.at(other).borders.erase(least.second);
      if (other == least.first) continue;
      to.borders[other] += length;
      areas.at(other).borders[least.first] += length;
    }
    areas.erase(least.second);
    pieces.setTo(least.first, pieces == least.second);
  }
  int number = 0;
  cv::Mat numbered = cv::Mat::zeros(pieces.size(), CV_32S);
  for (const auto& [name, area] : areas) numbered.setTo(++number, pieces == name);
  return numbered;
}

// The painting at a place between its pixels.
cv::Vec3f at(const cv::Mat& lab, cv::Point2f p) {
  const int x = std::clamp(static_cast<int>(std::lround(p.x)), 0, lab.cols - 1);
  const int y = std::clamp(static_cast<int>(std::lround(p.y)), 0, lab.rows - 1);
  return lab.at<cv::Vec3f>(y, x);
}

// Where the strongest step across an outline is, in pixels along its normal.
int strongestStep(const cv::Mat& lab, cv::Point2f place, cv::Point2f normal) {
  std::vector<cv::Vec3f> profile;
  for (int s = -kSearched - kBeside; s <= kSearched + kBeside; ++s) {
    cv::Vec3f sum;
    for (int t = -kAlong; t <= kAlong; ++t)
      sum += at(lab, place + s * normal + t * cv::Point2f(-normal.y, normal.x));
    profile.push_back(sum);
  }
  double strongest = -1;
  int where = 0;
  for (int s = 0; s <= 2 * kSearched; ++s) {
    cv::Vec3f step;
    for (int i = 0; i < kBeside; ++i) step += profile[s + kBeside + 1 + i] - profile[s + kBeside - 1 - i];
    if (cv::norm(step) <= strongest) continue;
    strongest = cv::norm(step);
    where = s - kSearched;
  }
  return where;
}

bool isStep(const cv::Mat& lab, cv::Point2f place, cv::Point2f normal) {
  return std::abs(strongestStep(lab, place, normal)) <= kTolerance * kLongEdge;
}

// Along the inner side of an area, without where the picture's own edge cuts it off.
Outline outlineOf(const cv::Mat& area, const cv::Mat& shown, const cv::Mat& painted) {
  cv::Mat soft;
  area.convertTo(soft, CV_32F);
  cv::GaussianBlur(soft, soft, {}, kTolerance * kLongEdge);
  cv::Mat inner;
  cv::erode(area, inner, {}, {-1, -1}, 1, cv::BORDER_REPLICATE);
  const cv::Mat outline = area & ~inner;
  int clear = 0;
  int kept = 0;
  for (int y = 1; y + 1 < area.rows; ++y) {
    for (int x = 1; x + 1 < area.cols; ++x) {
      if (outline.at<std::uint8_t>(y, x) == 0) continue;
      cv::Point2f normal(soft.at<float>(y, x + 1) - soft.at<float>(y, x - 1),
                         soft.at<float>(y + 1, x) - soft.at<float>(y - 1, x));
      if (cv::norm(normal) < 1e-3) continue;
      normal /= cv::norm(normal);
      const cv::Point2f place(static_cast<float>(x), static_cast<float>(y));
      if (!isStep(shown, place, normal)) continue;
      ++clear;
      if (isStep(painted, place, normal)) ++kept;
    }
  }
  return {cv::countNonZero(area) / (1.0 * area.rows * area.cols), clear == 0 ? 1 : 1.0 * kept / clear};
}

}  // namespace

std::vector<Outline> outlinesKept(const Image& photo, const Image& painting) {
  const double scale = 1.0 * kLongEdge / std::max(photo.width, photo.height);
  const int width = rounded(scale * photo.width);
  const int height = rounded(scale * photo.height);
  const cv::Mat shown = labOf(resizePhoto(photo, width, height));
  const cv::Mat painted = labOf(resizePhoto(painting, width, height));
  const cv::Mat areas = areasOf(shown);
  std::vector<Outline> all;
  for (int i = 1; i <= kAreas; ++i) all.push_back(outlineOf(areas == i, shown, painted));
  std::sort(all.begin(), all.end(), [](const Outline& a, const Outline& b) { return a.area > b.area; });
  return all;
}

}  // namespace bench
