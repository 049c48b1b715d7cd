// SPDX-License-Identifier: Apache-2.0
#include "base/parallel.h"

#include <condition_variable>
#include <mutex>
#include <system_error>
#include <thread>
#include <vector>

namespace jugendstil {
namespace {

// The OpenMP runtime ends the program where it gets no thread, so it is asked for no more than there are: how
// many can be had beside this one, at most so many.
int threadsToBeHad(int most) {
  std::mutex one;
  std::condition_variable end;
  bool over = false;
  std::vector<std::thread> threads;
  try {
    for (int i = 0; i < most; ++i) {
      threads.emplace_back([&] {
        std::unique_lock<std::mutex> lock(one);
        end.wait(lock, [&] { return over; });
      });
    }
  } catch (const std::system_error&) {  // no more of them
  }
  {
    const std::lock_guard<std::mutex> lock(one);
    over = true;
  }
  end.notify_all();
  for (std::thread& each : threads) each.join();
  return static_cast<int>(threads.size());
}

}  // namespace

void setThreads(int threads) {
  const int wanted = threads > 0 ? threads : omp_get_num_procs();
  assumeThreads(1 + threadsToBeHad(wanted - 1));
}

}  // namespace jugendstil
