// SPDX-License-Identifier: Apache-2.0
// What is started as `jugendstil`: it has a look at the limits it was started under, and becomes the program.
// By itself the program could not: it loads more than two hundred libraries, one of which makes threads of
// its own while it is loaded, and where they or its memory are refused it ends before its first line.
#include <sys/resource.h>
#include <unistd.h>

#include <array>
#include <atomic>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>
#include <system_error>
#include <thread>
#include <vector>

namespace {

// To load the program takes 520 MB of addresses; with less than this it has no use.
constexpr rlim_t kLeastAddresses = rlim_t{800} << 20;
// One library makes four threads, and helpers read files.
constexpr int kFewestThreads = 8;

[[noreturn]] void fail(const std::string& what) {
  std::fprintf(stderr, "jugendstil: %s\n", what.c_str());
  std::exit(1);
}

void requireAddresses() {
  rlimit limit{};
  if (getrlimit(RLIMIT_AS, &limit) != 0 || limit.rlim_cur == RLIM_INFINITY ||
      limit.rlim_cur >= kLeastAddresses)
    return;
  fail("may take no more than " + std::to_string(limit.rlim_cur >> 20) +
       " MB of memory (ulimit -v) and needs " + std::to_string(kLeastAddresses >> 20) +
       " MB to begin; raise the limit");
}

void requireThreads() {
  std::atomic<bool> over = false;
  std::vector<std::thread> threads;
  try {
    for (int i = 0; i < kFewestThreads; ++i) threads.emplace_back([&] { over.wait(false); });
  } catch (const std::system_error&) {  // counted below
  }
  over = true;
  over.notify_all();
  for (std::thread& each : threads) each.join();
  if (threads.size() < kFewestThreads)
    fail("the system gives you " + std::to_string(threads.size()) + " more threads (ulimit -u) and " +
         std::to_string(kFewestThreads) + " are needed; close other programs, or raise the limit");
}

// Beside this file where both were built, in libexec where they are installed.
std::string programPath() {
  std::array<char, 4096> own{};
  const ssize_t size = readlink("/proc/self/exe", own.data(), own.size() - 1);
  if (size <= 0) fail(std::string("does not find itself: ") + std::strerror(errno));
  const std::string path(own.data(), static_cast<std::size_t>(size));
  const std::string folder = path.substr(0, path.rfind('/'));
  for (const char* place : {"/jugendstil-program", "/../libexec/jugendstil-program"}) {
    if (access((folder + place).c_str(), X_OK) == 0) return folder + place;
  }
  fail("the program itself is missing beside " + path + "; install it again");
}

}  // namespace

int main(int, char** words) {
  requireAddresses();
  requireThreads();
  // Threads that wait for one another spin for a while before they sleep, by default so long that a second
  // program on the same processors slows a painting five- to tenfold; a short while costs a painting alone
  // nothing. The OpenMP runtime reads it before the program's main() begins.
  if (std::getenv("OMP_WAIT_POLICY") == nullptr) setenv("GOMP_SPINCOUNT", "2000", 0);
  const std::string program = programPath();
  execv(program.c_str(), words);
  fail(program + " cannot be started: " + std::strerror(errno));
}
