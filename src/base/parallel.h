// SPDX-License-Identifier: Apache-2.0
// Loops over rows or chunks on the same thread pool that oneDNN uses.
#pragma once

#include <omp.h>

#include <exception>

namespace jugendstil {

// Calls body(i) for i in [0, n) on the OpenMP threads, statically divided; i is of n's type. Calls must not
// depend on each other; the first exception is rethrown on the calling thread.
template <typename Index, typename Body>
void parallelFor(Index n, const Body& body) {
  std::exception_ptr failure;
#pragma omp parallel for schedule(static)
  for (Index i = 0; i < n; ++i) {
    try {
      body(i);
    } catch (...) {
#pragma omp critical(jugendstil_failure)
      if (!failure) failure = std::current_exception();
    }
  }
  if (failure) std::rethrow_exception(failure);
}

// So many threads, whether they are to be had or not.
inline void assumeThreads(int threads) {
  omp_set_num_threads(threads);
  // A library that asks for a number of its own shall not have more than the one.
  omp_set_max_active_levels(threads == 1 ? 0 : 1);
}

// How many threads all loops and convolutions use from now on; fewer where the system gives no more. 0 means
// all processors.
void setThreads(int threads);

// How many threads that is.
inline int threadCount() { return omp_get_max_threads(); }

}  // namespace jugendstil

// Compiles a hot loop several times for newer vector units and picks one when the program starts.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(JUGENDSTIL_SANITIZED)
#define JUGENDSTIL_VECTORISED __attribute__((target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")))
#else
#define JUGENDSTIL_VECTORISED
#endif
