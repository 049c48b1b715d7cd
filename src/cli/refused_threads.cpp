// SPDX-License-Identifier: Apache-2.0
// How all libraries of the program start threads. Where one is refused, the OpenMP runtime ends the program
// with lines of its own, even where others had the last thread for a moment only. So it is tried again for
// a second here, and then said as everything else is. Whoever else starts threads takes a refusal as it is.
#include <dlfcn.h>
#include <pthread.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>

namespace {

constexpr int kTries = 20;
constexpr useconds_t kPause = 50'000;  // microseconds

bool isOpenMp(const void* code) {
  Dl_info about{};
  return dladdr(code, &about) != 0 && about.dli_fname != nullptr &&
         std::strstr(about.dli_fname, "omp.so") != nullptr;
}

}  // namespace

extern "C" int pthread_create(pthread_t* thread, const pthread_attr_t* how, void* (*work)(void*),
                              void* with) noexcept {
  using Create = int (*)(pthread_t*, const pthread_attr_t*, void* (*)(void*), void*);
  static const auto create = reinterpret_cast<Create>(dlsym(RTLD_NEXT, "pthread_create"));
  const void* const caller = __builtin_return_address(0);
  for (int tries = 1;; ++tries) {
    const int refused = create(thread, how, work, with);
    if (refused != EAGAIN || !isOpenMp(caller)) return refused;
    if (tries == kTries) break;
    usleep(kPause);
  }
  std::fputs(
      "jugendstil: the system gives no more threads (ulimit -u); close other programs, or raise the "
      "limit\n",
      stderr);
  std::exit(1);
}
