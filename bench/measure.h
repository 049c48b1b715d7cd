// SPDX-License-Identifier: Apache-2.0
// Clocks, memory and the lines in which bars are reported.
#pragma once

#include <fmt/format.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <functional>
#include <string>

namespace bench {

using Clock = std::chrono::steady_clock;

inline double since(Clock::time_point begin) {
  return std::chrono::duration<double>(Clock::now() - begin).count();
}

inline void report(const std::string& what, double value, const std::string& unit, double bar, bool atMost) {
  fmt::print("{:<58} {:8.2f} {:<6} bar {} {:<6} {}\n", what, value, unit, atMost ? "<=" : ">=", bar,
             (atMost ? value <= bar : value >= bar) ? "met" : "MISSED");
  std::fflush(stdout);
}

// The best of several runs, in seconds.
inline double bestOf(int runs, const std::function<void()>& work) {
  double best = 1e9;
  for (int i = 0; i < runs; ++i) {
    const auto begin = Clock::now();
    work();
    best = std::min(best, since(begin));
  }
  return best;
}

// Peak resident memory of a fresh process that runs the work, in MB. To be called while this process has no
// threads for the child to miss.
inline double peakMemory(const std::function<void()>& work) {
  const pid_t child = fork();
  if (child == 0) {
    work();
    _exit(0);
  }
  int status = 0;
  rusage usage{};
  wait4(child, &status, 0, &usage);
  if (status != 0) return 1e9;  // what did not run to its end has met no bar
  return static_cast<double>(usage.ru_maxrss) / 1024;
}

}  // namespace bench
