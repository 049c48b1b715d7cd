// SPDX-License-Identifier: Apache-2.0
#include "helper/helper.h"

#include <fmt/format.h>
#include <signal.h>
#include <sys/socket.h>
#include <time.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <cstring>
#include <optional>
#include <system_error>
#include <thread>
#include <vector>

#include "base/error.h"
#include "helper/at_work.h"
#include "helper/exchange.h"
#include "helper/origin.h"

namespace jugendstil {
namespace {

constexpr double kUsualSeconds = 10;
constexpr double kBytesPerSecond = 5e6;
// So many times as long as it may work it may stand still, for a disk that is far away.
constexpr double kWaitFor = 12;

[[noreturn]] void failToStart(const std::string& about, int reason) {
  throw DiskError(about.empty() ? "no process can be started to read in"
                                : fmt::format("{}: no process can be started to read it in", about),
                  std::strerror(reason));
}

// Seconds of a processor that a process has used; the same again and again once it is gone.
double secondsOf(pid_t process) {
  clockid_t clock = 0;
  timespec used{};
  if (clock_getcpuclockid(process, &clock) != 0 || clock_gettime(clock, &used) != 0) return 0;
  return static_cast<double>(used.tv_sec) + static_cast<double>(used.tv_nsec) * 1e-9;
}

}  // namespace

void startHelpers() { startOrigin(); }

struct Helper::Impl {
  Impl(HelperWork work, std::string file) : about(std::move(file)) {
    std::array<int, 2> sockets{};
    if (socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, sockets.data()) != 0) failToStart(about, errno);
    try {
      start(work, sockets[1]);
    } catch (...) {
      for (const int each : sockets) close(each);
      throw;
    }
    exchange.emplace(sockets[0], process.memory, true, [this] { requirePatience(); });
    begun = secondsOf(process.number);
  }

  ~Impl() {
    // It may be far from looking whether it is still wanted.
    if (process.number > 0 && exchange && !exchange->gone()) {
      kill(process.number, SIGKILL);
      // Its place in the memory is not another's before it is gone.
      exchange->awaitEnd();
    }
    exchange.reset();
    if (thread.joinable()) thread.join();
    freePlace(process);
  }

  void start(HelperWork work, int socket) {
    if (!hasOrigin()) return startThread(work, socket);
    if (const int reason = startProcess(work, socket, process); reason != 0) failToStart(about, reason);
    close(socket);
  }

  void startThread(HelperWork work, int socket) {
    unprotected.resize(Exchange::kMemory);
    process.memory = unprotected;
    try {
      thread = std::thread([work, socket, where = process.memory] {
        Exchange exchange(socket, where, false);
        workAndTell(work, exchange);
      });
    } catch (const std::system_error& e) {
      failToStart(about, e.code().value());
    }
  }

  // Called some times a second while nothing comes. Time in which this program stands still itself, or others
  // have the processors, does not count; a helper that does not even work, waits for ever.
  void requirePatience() {
    if (process.number <= 0) return;
    waited += Exchange::kWait;
    if (secondsOf(process.number) - begun < seconds && waited < kWaitFor * seconds) return;
    fail(fmt::format(
        "is still not read after {:.0f} seconds of work, so it is damaged or made to take for ever; "
        "open it in another program and save it anew",
        seconds));
  }

  [[noreturn]] void failGone() const {
    fail("is damaged so that its decoder breaks down; open it in another program and save it anew");
  }

  [[noreturn]] void fail(const std::string& why) const {
    throw Error(about.empty() ? why : fmt::format("{}: {}", about, why));
  }

  void require(const Exchange::Message& message) const {
    const auto kind = static_cast<Told>(message.kind);
    if (kind == Told::plain) return;
    if (kind == Told::usage) throw UsageError(message.bytes);
    if (kind == Told::memory)
      fail("needs more memory than there is; reduce it first, or close other programs");
    if (kind == Told::thread)
      fail(fmt::format("cannot be read, for the system gives no more threads ({}); close other programs",
                       message.bytes));
    const std::size_t end = message.bytes.find('\0');
    if (kind == Told::disk && end != std::string::npos)
      throw DiskError(message.bytes.substr(0, end), message.bytes.substr(end + 1));
    if (kind == Told::error) throw Error(message.bytes);
    fail("is not as its format has it; open it in another program and save it anew");
  }

  std::string about;
  double seconds = kUsualSeconds;
  double begun = 0;       // the helper's seconds when it was asked
  double waited = 0;      // seconds since
  HelperProcess process;  // no number: a thread
  std::vector<std::byte> unprotected;
  std::thread thread;
  std::optional<Exchange> exchange;
};

Helper::Helper(HelperWork work, std::string about) : impl_(std::make_unique<Impl>(work, std::move(about))) {}
Helper::~Helper() = default;

void Helper::allow(double seconds) { impl_->seconds = seconds; }

void Helper::ask(std::string_view question) {
  impl_->begun = secondsOf(impl_->process.number);
  impl_->waited = 0;
  try {
    impl_->exchange->send(static_cast<char>(Told::plain), question);
  } catch (const SideGone&) {
    answer();  // it may have said why
    impl_->failGone();
  }
}

std::string Helper::answer() {
  try {
    Exchange::Message message = impl_->exchange->receive(kMostAnswer);
    impl_->require(message);
    return std::move(message.bytes);
  } catch (const SideGone&) {
    impl_->failGone();
  }
}

std::size_t Helper::answerPart(std::span<std::byte> to) {
  try {
    const Exchange::Message message = impl_->exchange->receiveInto(to, static_cast<char>(Told::plain));
    impl_->require(message);
    return message.size;
  } catch (const SideGone&) {
    impl_->failGone();
  }
}

std::string answerOfHelper(HelperWork work, const std::string& about, std::string_view question,
                           double seconds) {
  Helper helper(work, about);
  helper.allow(seconds);
  helper.ask(question);
  return helper.answer();
}

double patienceFor(std::uint64_t bytes) {
  return kUsualSeconds + static_cast<double>(bytes) / kBytesPerSecond;
}

}  // namespace jugendstil
