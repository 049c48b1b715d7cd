// SPDX-License-Identifier: Apache-2.0
#include "image/box_mean.h"

#include <algorithm>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/number.h"
#include "base/one_thread.h"
#include "base/parallel.h"

namespace jugendstil {

std::vector<float> boxMeans(const std::vector<float>& plane, int width, int height, int radius) {
  keepOpenCvOnOneThread();
  const cv::Mat values(height, width, CV_32FC1, const_cast<float*>(plane.data()));
  cv::Mat sums;  // of all above and to the left, one row and column more
  cv::integral(values, sums, CV_64F);
  std::vector<float> means(plane.size());
  parallelFor(height, [&](int y) {
    const int top = std::max(0, y - radius);
    const int bottom = std::min(height, y + radius + 1);
    const auto* above = sums.ptr<double>(top);
    const auto* below = sums.ptr<double>(bottom);
    float* out = &means[cellAt(0, y, width)];
    for (int x = 0; x < width; ++x) {
      const int left = std::max(0, x - radius);
      const int right = std::min(width, x + radius + 1);
      const double sum = below[right] - above[right] - below[left] + above[left];
      const auto count = static_cast<double>(right - left) * (bottom - top);
      out[x] = static_cast<float>(sum / count);
    }
  });
  return means;
}

}  // namespace jugendstil
