// SPDX-License-Identifier: Apache-2.0
// Loaded in front of the system's library (LD_PRELOAD): reads that fail, a note of what was synced, other
// numbers of processors, and one call of a kind that fails, counted over all processes of a run.
#include <dlfcn.h>
#include <fcntl.h>
#include <pthread.h>
#include <stdarg.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <array>
#include <atomic>
#include <cctype>
#include <cerrno>
#include <cstddef>
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
struct Counts {
  std::atomic<int> openings;
  std::atomic<int> calls;  // of the kind that fails
  std::atomic<int> failed;
};
Counts* newCounts() {
  return static_cast<Counts*>(
      mmap(nullptr, sizeof(Counts), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
}
Counts* counts = newCounts();

std::array<std::atomic<int>, kMostHandles>
    ordinals{};  // which opening a handle comes from; 0: of no interest
std::array<std::atomic<int>, kMostHandles> reads{};

void opened(int handle) {
  const Fault f = fault();
  if (handle < 0 || handle >= kMostHandles) return;
  const auto h = static_cast<std::size_t>(handle);
  ordinals[h] = 0;
  reads[h] = 0;
  if (f.name != nullptr && nameOf(handle).find(f.name) != std::string::npos) ordinals[h] = ++counts->openings;
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

// "KIND:N:LOG": the N-th call of that kind fails, once - with a capital letter each from there on - and LOG
// is made. Read when main() begins: what libraries do while they are loaded is none of ours.
struct OneFault {
  char kind = 0;
  int number = 0;
  const char* log = nullptr;
};
OneFault one;

void readOneFault() {
  const char* text = std::getenv("JUGENDSTIL_FAULT");
  int begin = 0;
  if (text != nullptr && std::sscanf(text, "%c:%d:%n", &one.kind, &one.number, &begin) == 2)
    one.log = text + begin;
}

bool isOf(char kind) { return one.kind == kind || one.kind == std::toupper(kind); }

// Whether this call is the one that fails.
bool isTheOne(char kind, int reason) {
  if (!isOf(kind)) return false;
  const int call = ++counts->calls;
  if (one.kind == kind ? call != one.number : call < one.number) return false;
  counts->failed = 1;
  errno = reason;
  return true;
}

}  // namespace

// A helper of the program may make no files, so that it came to a failure is noted at the end.
extern "C" void jugendstil_note_failure() {
  if (one.log == nullptr || counts->failed == 0) return;
  const int handle = next<int (*)(const char*, int, ...)>("open")(one.log, O_WRONLY | O_CREAT, 0600);
  if (handle >= 0) close(handle);
}

namespace {

bool isFile(int handle) {
  struct stat about {};
  return fstat(handle, &about) == 0 && S_ISREG(about.st_mode);
}

bool writeFails(int handle) { return isOf('w') && isFile(handle) && isTheOne('w', ENOSPC); }

// Small ones do not fail where memory is short: they come out of what the process has.
constexpr std::size_t kLarge = std::size_t{1} << 17;
[[maybe_unused]] bool allocationFails(std::size_t size) {
  return isOf('a') && size >= kLarge && isTheOne('a', ENOMEM);
}

using Main = int (*)(int, char**, char**);
Main programsMain = nullptr;

// Before there are helpers; and each copy of a program that waits to be copied (ready.cpp) counts for itself.
int beginMain(int count, char** words, char** environment) {
  counts = newCounts();
  readOneFault();
  std::atexit(jugendstil_note_failure);
  return programsMain(count, words, environment);
}

}  // namespace

extern "C" {

#ifndef JUGENDSTIL_SANITIZED  // which have an allocator of their own

void* __libc_malloc(std::size_t size);
void* __libc_calloc(std::size_t count, std::size_t size);
void* __libc_realloc(void* old, std::size_t size);
void* __libc_memalign(std::size_t alignment, std::size_t size);

void* malloc(std::size_t size) { return allocationFails(size) ? nullptr : __libc_malloc(size); }
void* calloc(std::size_t count, std::size_t size) {
  return allocationFails(count * size) ? nullptr : __libc_calloc(count, size);
}
void* realloc(void* old, std::size_t size) {
  return allocationFails(size) ? nullptr : __libc_realloc(old, size);
}
void* memalign(std::size_t alignment, std::size_t size) {
  return allocationFails(size) ? nullptr : __libc_memalign(alignment, size);
}
void* aligned_alloc(std::size_t alignment, std::size_t size) { return memalign(alignment, size); }
int posix_memalign(void** to, std::size_t alignment, std::size_t size) {
  *to = memalign(alignment, size);
  return *to == nullptr ? ENOMEM : 0;
}

#endif

ssize_t write(int handle, const void* from, size_t size) {
  return writeFails(handle) ? -1 : next<ssize_t (*)(int, const void*, size_t)>("write")(handle, from, size);
}
ssize_t pwrite(int handle, const void* from, size_t size, off_t at) {
  return writeFails(handle)
             ? -1
             : next<ssize_t (*)(int, const void*, size_t, off_t)>("pwrite")(handle, from, size, at);
}
ssize_t pwrite64(int handle, const void* from, size_t size, off64_t at) {
  return writeFails(handle)
             ? -1
             : next<ssize_t (*)(int, const void*, size_t, off64_t)>("pwrite64")(handle, from, size, at);
}

int rename(const char* from, const char* to) noexcept {
  return isTheOne('r', EACCES) ? -1 : next<int (*)(const char*, const char*)>("rename")(from, to);
}
int renameat2(int inFrom, const char* from, int inTo, const char* to, unsigned flags) noexcept {
  return isTheOne('r', EACCES) ? -1
                               : next<int (*)(int, const char*, int, const char*, unsigned)>("renameat2")(
                                     inFrom, from, inTo, to, flags);
}

int pthread_create(pthread_t* thread, const pthread_attr_t* how, void* (*work)(void*), void* with) noexcept {
  if (isTheOne('t', EAGAIN)) return EAGAIN;
  return next<int (*)(pthread_t*, const pthread_attr_t*, void* (*)(void*), void*)>("pthread_create")(
      thread, how, work, with);
}

int __libc_start_main(Main main, int count, char** words, void (*init)(), void (*fini)(),
                      void (*loaderFini)(), void* stackEnd) {
  using Start = int (*)(Main, int, char**, void (*)(), void (*)(), void (*)(), void*);
  programsMain = main;
  return next<Start>("__libc_start_main")(beginMain, count, words, init, fini, loaderFini, stackEnd);
}

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
  if (isTheOne('s', EIO)) return -1;
  if (const char* log = std::getenv("JUGENDSTIL_NOTED_SYNCS")) {
    const std::string line = nameOf(handle) + "\n";
    const int file = next<int (*)(const char*, int, ...)>("open")(log, O_WRONLY | O_CREAT | O_APPEND, 0600);
    [[maybe_unused]] const auto written = write(file, line.data(), line.size());
    close(file);
  }
  return next<int (*)(int)>("fsync")(handle);
}

}  // extern "C"
