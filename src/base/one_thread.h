// SPDX-License-Identifier: Apache-2.0
// OpenCV on the calling thread.
#pragma once

#include <opencv2/core.hpp>

namespace jugendstil {

// From the first call on OpenCV makes no threads of its own: its results would depend on how many there are,
// and our loops already fill the processors.
inline void keepOpenCvOnOneThread() {
  [[maybe_unused]] static const bool done = (cv::setNumThreads(0), true);
}

}  // namespace jugendstil
