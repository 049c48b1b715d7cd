// SPDX-License-Identifier: Apache-2.0
#include "cli/batch.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <mutex>
#include <new>
#include <thread>

#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "cli/interrupt.h"

namespace jugendstil::cli {
namespace {

class Batch {
 public:
  Batch(std::size_t items, ProgressStyle style, const char* noun)
      : display_(style), noun_(noun), done_(items, 0.0) {}

  void show(std::size_t item, double done) {
    const std::lock_guard lock(mutex_);
    done_[item] = done;
    double sum = 0;
    for (const double d : done_) sum += d;
    const std::size_t finished = std::count(done_.begin(), done_.end(), 1.0);
    display_.show(sum / static_cast<double>(done_.size()), noun_, finished, done_.size());
  }

  void fail(std::size_t item, const std::string& message) {
    {
      const std::lock_guard lock(mutex_);
      outcome_.failures.push_back({item, message});
    }
    show(item, 1);
  }

  bool stopped() const { return interrupt_.wanted(); }

  BatchOutcome finish() {
    display_.finish();
    std::sort(outcome_.failures.begin(), outcome_.failures.end(),
              [](const BatchFailure& a, const BatchFailure& b) { return a.item < b.item; });
    outcome_.stopped = stopped();
    outcome_.seconds = display_.seconds();
    return outcome_;
  }

 private:
  std::mutex mutex_;
  InterruptWatch interrupt_;
  ProgressDisplay display_;
  const char* noun_;
  std::vector<double> done_;
  BatchOutcome outcome_;
};

}  // namespace

BatchOutcome runBatch(std::size_t items, int threads, ProgressStyle style, const char* noun,
                      const std::function<void(std::size_t, const ItemProgress&)>& work) {
  Batch batch(items, style, noun);
  std::atomic<std::size_t> next{0};
  const std::size_t total = threads > 0 ? threads : omp_get_num_procs();
  const std::size_t workers = std::max<std::size_t>(1, std::min(total, items));
  const auto run = [&] {
    // Each worker has its part of the threads for the loops inside.
    setThreads(static_cast<int>(std::max<std::size_t>(1, total / workers)));
    for (std::size_t item = next++; item < items && !batch.stopped(); item = next++) {
      try {
        work(item, [&](double done) {
          batch.show(item, std::min(done, 0.999));
          if (batch.stopped()) throw Stopped{};
        });
        batch.show(item, 1);
      } catch (const Stopped&) {
        return;
      } catch (const Error& e) {
        batch.fail(item, e.what());
      } catch (const std::bad_alloc&) {
        batch.fail(item, "not enough memory; grade it by itself");
      }
    }
  };
  if (workers == 1) {
    run();
  } else {
    std::vector<std::thread> pool;
    for (std::size_t i = 0; i < workers; ++i) pool.emplace_back(run);
    for (std::thread& t : pool) t.join();
  }
  return batch.finish();
}

}  // namespace jugendstil::cli
