// SPDX-License-Identifier: Apache-2.0
// Loaded in front of the system's library (LD_PRELOAD): reads that fail, a note of what was synced, and other
// numbers of processors.
#include <dlfcn.h>
#include <fcntl.h>
#include <stdarg.h>
#include <sys/mman.h>
#include <unistd.h>

#include <array>
#include <atomic>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>

namespace {

template <typename Function>
Function next(const char* name) {
  return reinterpret_cast<Function>(dlsym(RTLD_NEXT, name));
}

// "OPEN:AFTER:NAME"
struct Fault {
  int open = 0;
  int after = 0;
  const char* name = nullptr;
};

Fault fault() {
  Fault f;
  const char* text = std::getenv("JUGENDSTIL_FAILING_READS");
  if (text == nullptr) return f;
  int begin = 0;
  if (std::sscanf(text, "%d:%d:%n", &f.open, &f.after, &begin) == 2) f.name = text + begin;
  return f;
}

std::string nameOf(int handle) {
  std::array<char, 4096> name{};
  const std::string link = "/proc/self/fd/" + std::to_string(handle);
  const ssize_t size = readlink(link.c_str(), name.data(), name.size() - 1);
  return size > 0 ? std::string(name.data(), static_cast<std::size_t>(size)) : std::string();
}

constexpr int kMostHandles = 1024;
// Files are read in this process and in helpers of it: all count together.
std::atomic<int>& openings() {
  static auto* const shared = static_cast<std::atomic<int>*>(
      mmap(nullptr, sizeof(std::atomic<int>), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
  return *shared;
}
// Before there are helpers.
[[maybe_unused]] const int kFirst = openings();

std::array<std::atomic<int>, kMostHandles>
    ordinals{};  // which opening a handle comes from; 0: of no interest
std::array<std::atomic<int>, kMostHandles> reads{};

void opened(int handle) {
  const Fault f = fault();
  if (handle < 0 || handle >= kMostHandles) return;
  const auto h = static_cast<std::size_t>(handle);
  ordinals[h] = 0;
  reads[h] = 0;
  if (f.name != nullptr && nameOf(handle).find(f.name) != std::string::npos) ordinals[h] = ++openings();
}

bool fails(int handle) {
  if (handle < 0 || handle >= kMostHandles) return false;
  const auto h = static_cast<std::size_t>(handle);
  if (ordinals[h] == 0) return false;
  const Fault f = fault();
  if (ordinals[h] != f.open || reads[h]++ < f.after) return false;
  errno = EIO;
  return true;
}

}  // namespace

extern "C" {

int open(const char* name, int flags, ...) {
  va_list rest;
  va_start(rest, flags);
  const auto mode = va_arg(rest, unsigned);
  va_end(rest);
  const int handle = next<int (*)(const char*, int, ...)>("open")(name, flags, mode);
  opened(handle);
  return handle;
}

int open64(const char* name, int flags, ...) {
  va_list rest;
  va_start(rest, flags);
  const auto mode = va_arg(rest, unsigned);
  va_end(rest);
  const int handle = next<int (*)(const char*, int, ...)>("open64")(name, flags, mode);
  opened(handle);
  return handle;
}

ssize_t read(int handle, void* to, size_t size) {
  return fails(handle) ? -1 : next<ssize_t (*)(int, void*, size_t)>("read")(handle, to, size);
}

ssize_t pread(int handle, void* to, size_t size, off_t offset) {
  return fails(handle) ? -1 : next<ssize_t (*)(int, void*, size_t, off_t)>("pread")(handle, to, size, offset);
}

ssize_t pread64(int handle, void* to, size_t size, off64_t offset) {
  return fails(handle) ? -1
                       : next<ssize_t (*)(int, void*, size_t, off64_t)>("pread64")(handle, to, size, offset);
}

int omp_get_num_procs() {
  if (const char* processors = std::getenv("JUGENDSTIL_PROCESSORS")) return std::atoi(processors);
  return next<int (*)()>("omp_get_num_procs")();
}

int fsync(int handle) {
  if (const char* log = std::getenv("JUGENDSTIL_NOTED_SYNCS")) {
    const std::string line = nameOf(handle) + "\n";
    const int file = next<int (*)(const char*, int, ...)>("open")(log, O_WRONLY | O_CREAT | O_APPEND, 0600);
    [[maybe_unused]] const auto written = write(file, line.data(), line.size());
    close(file);
  }
  return next<int (*)(int)>("fsync")(handle);
}

}  // extern "C"
