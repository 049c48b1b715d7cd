// SPDX-License-Identifier: Apache-2.0
#include "helper/lockdown.h"

#include <fcntl.h>
#include <sched.h>
#include <seccomp.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <fstream>
#include <limits>
#include <memory>
#include <string>

namespace jugendstil {
namespace {

// The number behind a word at the beginning of a line of the system's, in bytes; `otherwise` where there is
// none.
std::uint64_t kilobytesIn(const char* file, const std::string& word, std::uint64_t otherwise) {
  std::ifstream in(file);
  for (std::string line; std::getline(in, line);) {
    if (line.rfind(word, 0) == 0) return std::strtoull(line.c_str() + word.size(), nullptr, 10) * 1024;
  }
  return otherwise;
}

std::uint64_t leftOf(__rlimit_resource limit, const std::string& used) {
  rlimit most{};
  if (getrlimit(limit, &most) != 0 || most.rlim_cur == RLIM_INFINITY)
    return std::numeric_limits<std::uint64_t>::max();
  const std::uint64_t taken = kilobytesIn("/proc/self/status", used, 0);
  return most.rlim_cur > taken ? most.rlim_cur - taken : 0;
}

#ifndef JUGENDSTIL_SANITIZED

void setLimit(__rlimit_resource which, std::uint64_t most) {
  rlimit limit{};
  if (getrlimit(which, &limit) != 0) return;
  limit.rlim_cur = limit.rlim_max = std::min<rlim_t>(most, limit.rlim_max);
  setrlimit(which, &limit);
}

// Calls that take nothing from anybody.
constexpr int kHarmless[] = {SCMP_SYS(read),
                             SCMP_SYS(pread64),
                             SCMP_SYS(readv),
                             SCMP_SYS(preadv),
                             SCMP_SYS(write),  // into what is open: nothing but the exchange's socket
                             SCMP_SYS(writev),
                             SCMP_SYS(close),
                             SCMP_SYS(fstat),
                             SCMP_SYS(newfstatat),
                             SCMP_SYS(stat),
                             SCMP_SYS(lstat),
                             SCMP_SYS(statx),
                             SCMP_SYS(statfs),
                             SCMP_SYS(fstatfs),
                             SCMP_SYS(access),
                             SCMP_SYS(faccessat),
                             SCMP_SYS(faccessat2),
                             SCMP_SYS(readlink),
                             SCMP_SYS(readlinkat),
                             SCMP_SYS(getdents64),
                             SCMP_SYS(lseek),
                             SCMP_SYS(fadvise64),
                             SCMP_SYS(fcntl),
                             SCMP_SYS(dup),
                             SCMP_SYS(getcwd),
                             SCMP_SYS(mmap),
                             SCMP_SYS(mremap),
                             SCMP_SYS(munmap),
                             SCMP_SYS(mprotect),
                             SCMP_SYS(madvise),
                             SCMP_SYS(brk),
                             SCMP_SYS(futex),
                             SCMP_SYS(set_robust_list),
                             SCMP_SYS(set_tid_address),
                             SCMP_SYS(rseq),
                             SCMP_SYS(membarrier),
                             SCMP_SYS(get_mempolicy),
                             SCMP_SYS(exit),
                             SCMP_SYS(exit_group),
                             SCMP_SYS(restart_syscall),
                             SCMP_SYS(rt_sigaction),
                             SCMP_SYS(rt_sigprocmask),
                             SCMP_SYS(rt_sigreturn),
                             SCMP_SYS(sigaltstack),
                             SCMP_SYS(gettid),
                             SCMP_SYS(getpid),
                             SCMP_SYS(getppid),
                             SCMP_SYS(getuid),
                             SCMP_SYS(geteuid),
                             SCMP_SYS(getgid),
                             SCMP_SYS(getegid),
                             SCMP_SYS(getrlimit),
                             SCMP_SYS(getrusage),
                             SCMP_SYS(sched_getaffinity),
                             SCMP_SYS(sched_getattr),
                             SCMP_SYS(sched_getparam),
                             SCMP_SYS(sched_getscheduler),
                             SCMP_SYS(sched_yield),
                             SCMP_SYS(getpriority),
                             SCMP_SYS(getcpu),
                             SCMP_SYS(clock_gettime),
                             SCMP_SYS(clock_getres),
                             SCMP_SYS(clock_nanosleep),
                             SCMP_SYS(nanosleep),
                             SCMP_SYS(gettimeofday),
                             SCMP_SYS(time),
                             SCMP_SYS(times),
                             SCMP_SYS(getrandom),
                             SCMP_SYS(uname),
                             SCMP_SYS(sysinfo),
                             SCMP_SYS(poll),
                             SCMP_SYS(ppoll),
                             SCMP_SYS(select),
                             SCMP_SYS(pselect6),
                             SCMP_SYS(recvfrom),
                             SCMP_SYS(recvmsg),
                             SCMP_SYS(sendto),
                             SCMP_SYS(sendmsg),
                             SCMP_SYS(eventfd2),
                             SCMP_SYS(pipe2)};

struct ReleaseFilter {
  void operator()(void* filter) const { seccomp_release(filter); }
};

bool filterCalls() {
  const std::unique_ptr<void, ReleaseFilter> filter(seccomp_init(SCMP_ACT_ERRNO(EPERM)));
  if (!filter) return false;
  bool whole = true;
  const auto allow = [&](int call) {
    whole = whole && seccomp_rule_add(filter.get(), SCMP_ACT_ALLOW, call, 0) == 0;
  };
  const auto allowIf = [&](int call, const scmp_arg_cmp& is) {
    whole = whole && seccomp_rule_add_array(filter.get(), SCMP_ACT_ALLOW, call, 1, &is) == 0;
  };
  for (const int call : kHarmless) allow(call);
  constexpr scmp_datum_t kWriting = O_WRONLY | O_RDWR | O_CREAT | O_TRUNC;
  allowIf(SCMP_SYS(open), SCMP_A1(SCMP_CMP_MASKED_EQ, kWriting, 0));
  allowIf(SCMP_SYS(openat), SCMP_A2(SCMP_CMP_MASKED_EQ, kWriting, 0));
  // A helper in a helper is a thread of it.
  allowIf(SCMP_SYS(socketpair), SCMP_A0(SCMP_CMP_EQ, AF_UNIX));
  // Threads are made as before clone3, whose arguments a filter cannot see.
  allowIf(SCMP_SYS(clone), SCMP_A0(SCMP_CMP_MASKED_EQ, CLONE_THREAD, CLONE_THREAD));
  whole = whole && seccomp_rule_add(filter.get(), SCMP_ACT_ERRNO(ENOSYS), SCMP_SYS(clone3), 0) == 0;
  allowIf(SCMP_SYS(prctl), SCMP_A0(SCMP_CMP_EQ, PR_SET_NAME));
  allowIf(SCMP_SYS(prlimit64), SCMP_A2(SCMP_CMP_EQ, 0));  // to ask, not to set
  // An end of its own making.
  allowIf(SCMP_SYS(tgkill), SCMP_A0(SCMP_CMP_EQ, static_cast<scmp_datum_t>(getpid())));
  return whole && seccomp_load(filter.get()) == 0;
}

#endif

}  // namespace

std::uint64_t freeMemory() {
  std::uint64_t left =
      kilobytesIn("/proc/meminfo", "MemAvailable:", std::numeric_limits<std::uint64_t>::max());
  left = std::min(left, leftOf(RLIMIT_AS, "VmSize:"));
  return std::min(left, leftOf(RLIMIT_DATA, "VmData:"));
}

bool lockDown([[maybe_unused]] std::uint64_t memory) {
#ifdef JUGENDSTIL_SANITIZED
  return false;
#else
  const std::uint64_t own = kilobytesIn("/proc/self/status", "VmData:", 0);
  setLimit(RLIMIT_DATA, memory + own);
  setLimit(RLIMIT_CORE, 0);
  prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
  return filterCalls();
#endif
}

}  // namespace jugendstil
