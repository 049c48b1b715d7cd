// SPDX-License-Identifier: Apache-2.0
#include "image/faces.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/objdetect.hpp>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "image/luma.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Larger photos are reduced before they are searched, which loses faces smaller than anybody holds.
constexpr int kSearchedEdge = 1280;
constexpr int kSmallest = 24;  // part of the shorter side
constexpr double kScales = 1.1;
// How many neighbouring places and sizes must agree: with 3, leaves and brickwork were faces now and then.
constexpr int kAgreeing = 5;
// What is found ends at brows and mouth.
constexpr double kWhole = 1.25;
// Half the height and width of an oval beside the face's height, and how far it is soft.
constexpr double kTall = 0.62;
constexpr double kWide = 0.5;
constexpr double kSoft = 1.0 / 6;

cv::Mat greyOf(const Image& photo) {
  cv::Mat grey(photo.height, photo.width, CV_8UC1);
  for (int y = 0; y < photo.height; ++y) {
    for (int x = 0; x < photo.width; ++x)
      grey.at<std::uint8_t>(y, x) =
          cv::saturate_cast<std::uint8_t>(255 * lumaOf(photo.row(y) + cellCount(x, photo.channels)));
  }
  cv::equalizeHist(grey, grey);
  return grey;
}

}  // namespace

std::vector<Face> facesIn(const Image& photo) {
  if (!std::filesystem::exists(JUGENDSTIL_FACES))
    throw Error(fmt::format("{}: not there, and faces are found by it; install the package opencv-data",
                            JUGENDSTIL_FACES));
  cv::CascadeClassifier cascade(JUGENDSTIL_FACES);
  const Image rgb = rgbOf(photo);
  const double scale = std::min(1.0, 1.0 * kSearchedEdge / std::max(photo.width, photo.height));
  const cv::Mat grey = greyOf(
      resizePhoto(rgb, std::max(1, rounded(scale * rgb.width)), std::max(1, rounded(scale * rgb.height))));
  const int least = std::max(20, std::min(grey.cols, grey.rows) / kSmallest);
  std::vector<cv::Rect> found;
  cascade.detectMultiScale(grey, found, kScales, kAgreeing, 0, {least, least});
  std::vector<Face> faces;
  for (const cv::Rect& r : found)
    faces.push_back(
        {(r.x + r.width / 2.0) / scale, (r.y + r.height / 2.0) / scale, kWhole * r.height / scale});
  std::sort(faces.begin(), faces.end(), [](const Face& a, const Face& b) { return a.size > b.size; });
  return faces;
}

Image maskOfFaces(const Image& photo, const std::vector<Face>& faces) {
  Image mask(photo.width, photo.height, 1);
  for (const Face& face : faces) {
    parallelFor(mask.height, [&](int y) {
      for (int x = 0; x < mask.width; ++x) {
        // From the oval's middle, 1 at its edge.
        const double away =
            std::hypot((x + 0.5 - face.x) / (kWide * face.size), (y + 0.5 - face.y) / (kTall * face.size));
        const double inside = std::clamp((1 - away) / (2 * kSoft) + 0.5, 0.0, 1.0);
        float& value = mask.at(x, y, 0);
        value = std::max(value, static_cast<float>(inside * inside * (3 - 2 * inside)));
      }
    });
  }
  return mask;
}

}  // namespace jugendstil
