// SPDX-License-Identifier: Apache-2.0
#include "base/parallel.h"

#include <gtest/gtest.h>

#include <vector>

#include "base/error.h"

namespace jugendstil {
namespace {

TEST(Parallel, EveryIndexOnce) {
  setThreads(3);
  EXPECT_EQ(threadCount(), 3);
  std::vector<int> visits(1000, 0);
  parallelFor(1000, [&](int i) { ++visits[static_cast<std::size_t>(i)]; });
  EXPECT_EQ(visits, std::vector<int>(1000, 1));
  parallelFor(0, [&](int) { FAIL(); });
  setThreads(0);
  EXPECT_GE(threadCount(), 1);
}

// Also where a library asks for more.
TEST(Parallel, OneThreadIsOne) {
  const auto given = [] {
    int threads = 0;
#pragma omp parallel num_threads(2)
    {
#pragma omp single
      threads = omp_get_num_threads();
    }
    return threads;
  };
  setThreads(1);
  EXPECT_EQ(given(), 1);
  setThreads(2);
  EXPECT_EQ(given(), 2);
  setThreads(0);
}

TEST(Parallel, AnErrorReachesTheCallerAndTheOthersGoOn) {
  setThreads(2);
  std::vector<int> visits(100, 0);
  EXPECT_THROW(parallelFor(100,
                           [&](int i) {
                             visits[static_cast<std::size_t>(i)] = 1;
                             if (i == 10) throw Error("here");
                           }),
               Error);
  EXPECT_EQ(visits, std::vector<int>(100, 1));
  setThreads(0);
}

}  // namespace
}  // namespace jugendstil
