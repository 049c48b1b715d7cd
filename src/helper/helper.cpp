// SPDX-License-Identifier: Apache-2.0
#include "helper/helper.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/socket.h>
#include <time.h>
#include <unistd.h>

#include <array>
#include <bitset>
#include <cerrno>
#include <cstring>
#include <mutex>
#include <new>
#include <system_error>
#include <thread>
#include <vector>

#include "base/error.h"
#include "helper/exchange.h"
#include "helper/lockdown.h"

namespace jugendstil {
namespace {

// At work at the same time: a few files for each picture, a few pictures.
constexpr std::size_t kMostHelpers = 48;
constexpr std::size_t kMostAnswer = std::size_t{4} << 30;
constexpr double kUsualSeconds = 10;
constexpr double kBytesPerSecond = 5e6;
// So many times as long as it may work it may stand still, for a disk that is far away.
constexpr double kWaitFor = 12;

// What a message is.
constexpr char kPlain = 'm';
constexpr char kError = 'e';
constexpr char kUsage = 'u';
constexpr char kDisk = 'd';
constexpr char kMemory = 'n';
constexpr char kThread = 't';
constexpr char kUnknown = 'x';

std::span<std::byte> memoryOf(std::byte* pool, std::size_t place) {
  return {pool + place * Exchange::kMemory, Exchange::kMemory};
}

// A wish for a helper; the socket that it talks through comes beside it.
struct Order {
  HelperWork work = nullptr;
  std::uint64_t memory = 0;
  std::uint32_t place = 0;
};

// The process that helpers are copies of.
struct Origin {
  int socket = -1;
  bool wanted = false;
  int reason = 0;  // why there is none, in the system's numbers
  std::byte* pool = nullptr;
  std::mutex one;
  std::bitset<kMostHelpers> taken;  // places in the pool
};

// One a process, as there is one process at its start to copy.
Origin& origin() {
  static Origin the;
  return the;
}

class AskerOverExchange final : public Asker {
 public:
  explicit AskerOverExchange(Exchange& exchange) : exchange_(exchange) {}
  std::string next() override { return exchange_.receive(kMostAnswer).bytes; }
  void answer(std::string_view bytes) override { exchange_.send(kPlain, bytes); }

 private:
  Exchange& exchange_;
};

void workAndTell(HelperWork work, Exchange& exchange) {
  const auto tell = [&](char kind, std::string_view what) { exchange.send(kind, what); };
  try {
    try {
      AskerOverExchange asker(exchange);
      work(asker);
    } catch (const SideGone&) {
      throw;
    } catch (const DiskError& e) {
      // Both parts, which its message is made of.
      const std::string whole = e.what();
      const std::size_t most = whole.size() - std::min(whole.size(), e.reason().size() + 2);
      tell(kDisk, whole.substr(0, most) + '\0' + e.reason());
    } catch (const UsageError& e) {
      tell(kUsage, e.what());
    } catch (const Error& e) {
      tell(kError, e.what());
    } catch (const std::bad_alloc&) {
      tell(kMemory, {});
    } catch (const std::system_error& e) {
      tell(kThread, e.code().message());
    } catch (const std::exception&) {
      tell(kUnknown, {});
    }
  } catch (const SideGone&) {  // nobody wants it any more
  }
}

// Runs in the copy.
[[noreturn]] void serve(const Order& order, int socket, std::byte* pool) {
  prctl(PR_SET_PDEATHSIG, SIGKILL);
  // What others read is none of its business.
  if (order.place > 0) munmap(pool, order.place * Exchange::kMemory);
  if (order.place + 1 < kMostHelpers)
    munmap(memoryOf(pool, order.place + 1).data(), (kMostHelpers - order.place - 1) * Exchange::kMemory);
  // A file inside a file is read by a thread here.
  origin().wanted = false;
  {
    Exchange exchange(socket, memoryOf(pool, order.place), false);
    lockDown(order.memory);
    workAndTell(order.work, exchange);
  }
  _exit(0);
}

// An order with its socket; -1 where nobody will order any more.
int received(int from, Order& order) {
  iovec part{&order, sizeof(order)};
  alignas(cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> room{};
  msghdr message{};
  message.msg_iov = &part;
  message.msg_iovlen = 1;
  message.msg_control = room.data();
  message.msg_controllen = room.size();
  ssize_t n = 0;
  do n = recvmsg(from, &message, MSG_CMSG_CLOEXEC);
  while (n < 0 && errno == EINTR);
  const cmsghdr* beside = n == static_cast<ssize_t>(sizeof(order)) ? CMSG_FIRSTHDR(&message) : nullptr;
  if (beside == nullptr) return -1;
  int socket = -1;
  std::memcpy(&socket, CMSG_DATA(beside), sizeof(socket));
  return socket;
}

bool sendOrder(int to, const Order& order, int socket) {
  Order sent = order;
  iovec part{&sent, sizeof(sent)};
  alignas(cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> room{};
  msghdr message{};
  message.msg_iov = &part;
  message.msg_iovlen = 1;
  message.msg_control = room.data();
  message.msg_controllen = room.size();
  cmsghdr* beside = CMSG_FIRSTHDR(&message);
  beside->cmsg_level = SOL_SOCKET;
  beside->cmsg_type = SCM_RIGHTS;
  beside->cmsg_len = CMSG_LEN(sizeof(int));
  std::memcpy(CMSG_DATA(beside), &socket, sizeof(socket));
  ssize_t n = 0;
  do n = sendmsg(to, &message, MSG_NOSIGNAL);
  while (n < 0 && errno == EINTR);
  return n == static_cast<ssize_t>(sizeof(sent));
}

// The life of the process that copies are made of. It has nothing open that the user waits for, and outlives
// neither Ctrl-C, which is not meant for it, nor the program.
[[noreturn]] void originate(int socket, std::byte* pool) {
  prctl(PR_SET_PDEATHSIG, SIGKILL);
  for (const int deaf : {SIGINT, SIGTERM, SIGHUP, SIGQUIT, SIGPIPE, SIGCHLD}) signal(deaf, SIG_IGN);
  const int nothing = open("/dev/null", O_RDWR | O_CLOEXEC);
  for (const int stream : {STDIN_FILENO, STDOUT_FILENO, STDERR_FILENO}) dup2(nothing, stream);
  for (;;) {
    Order order;
    const int asked = received(socket, order);
    if (asked < 0) _exit(0);
    const pid_t child = fork();
    if (child == 0) {
      close(socket);
      serve(order, asked, pool);
    }
    const std::int32_t told = child > 0 ? child : -errno;
    close(asked);
    if (send(socket, &told, sizeof(told), MSG_NOSIGNAL) < 0) _exit(0);
  }
}

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

void startHelpers() {
  Origin& the = origin();
  if (the.wanted) return;
  the.wanted = true;
  void* pool = mmap(nullptr, kMostHelpers * Exchange::kMemory, PROT_READ | PROT_WRITE,
                    MAP_SHARED | MAP_ANONYMOUS | MAP_NORESERVE, -1, 0);
  std::array<int, 2> sockets{};
  if (pool == MAP_FAILED || socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, sockets.data()) != 0) {
    the.reason = errno;
    return;
  }
  const pid_t child = fork();
  if (child == 0) {
    close(sockets[0]);
    originate(sockets[1], static_cast<std::byte*>(pool));
  }
  the.reason = child < 0 ? errno : 0;
  close(sockets[1]);
  the.socket = sockets[0];
  the.pool = static_cast<std::byte*>(pool);
}

struct Helper::Impl {
  Impl(HelperWork work, std::string file) : about(std::move(file)) {
    std::array<int, 2> sockets{};
    if (socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, sockets.data()) != 0) failToStart(about, errno);
    try {
      if (origin().wanted)
        startProcess(work, sockets[1]);
      else
        startThread(work, sockets[1]);
    } catch (...) {
      for (const int each : sockets) close(each);
      throw;
    }
    exchange.emplace(sockets[0], memory, true, [this] { requirePatience(); });
    begun = secondsOf(process);
  }

  ~Impl() {
    // It may be far from looking whether it is still wanted.
    if (process > 0 && exchange && !exchange->gone()) {
      kill(process, SIGKILL);
      // Its place in the memory is not another's before it is gone.
      exchange->awaitEnd();
    }
    exchange.reset();
    if (thread.joinable()) thread.join();
    freePlace();
  }

  void startProcess(HelperWork work, int socket) {
    Origin& the = origin();
    const std::lock_guard<std::mutex> alone(the.one);
    if (the.reason != 0) failToStart(about, the.reason);
    std::size_t place = 0;
    while (place < kMostHelpers && the.taken[place]) ++place;
    if (place == kMostHelpers) failToStart(about, EAGAIN);
    const Order order{work, freeMemory(), static_cast<std::uint32_t>(place)};
    std::int32_t told = -ECHILD;
    if (sendOrder(the.socket, order, socket)) {
      ssize_t n = 0;
      do n = recv(the.socket, &told, sizeof(told), 0);
      while (n < 0 && errno == EINTR);
      if (n != static_cast<ssize_t>(sizeof(told))) told = -ECHILD;
    }
    if (told < 0) failToStart(about, -told);
    close(socket);
    process = told;
    the.taken[place] = true;
    taken = static_cast<int>(place);
    memory = memoryOf(the.pool, place);
  }

  void startThread(HelperWork work, int socket) {
    unprotected.resize(Exchange::kMemory);
    memory = unprotected;
    try {
      thread = std::thread([work, socket, where = memory] {
        Exchange exchange(socket, where, false);
        workAndTell(work, exchange);
      });
    } catch (const std::system_error& e) {
      failToStart(about, e.code().value());
    }
  }

  void freePlace() const {
    if (taken < 0) return;
    const std::lock_guard<std::mutex> alone(origin().one);
    origin().taken[taken] = false;
  }

  // Called some times a second while nothing comes. Time in which this program stands still itself, or others
  // have the processors, does not count; a helper that does not even work, waits for ever.
  void requirePatience() {
    if (process <= 0) return;
    waited += Exchange::kWait;
    if (secondsOf(process) - begun < seconds && waited < kWaitFor * seconds) return;
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
    if (message.kind == kPlain) return;
    if (message.kind == kUsage) throw UsageError(message.bytes);
    if (message.kind == kMemory)
      fail("needs more memory than there is; reduce it first, or close other programs");
    if (message.kind == kThread)
      fail(fmt::format("cannot be read, for the system gives no more threads ({}); close other programs",
                       message.bytes));
    const std::size_t end = message.bytes.find('\0');
    if (message.kind == kDisk && end != std::string::npos)
      throw DiskError(message.bytes.substr(0, end), message.bytes.substr(end + 1));
    if (message.kind == kError) throw Error(message.bytes);
    fail("is not as its format has it; open it in another program and save it anew");
  }

  std::string about;
  double seconds = kUsualSeconds;
  double begun = 0;   // the helper's seconds when it was asked
  double waited = 0;  // seconds since
  std::span<std::byte> memory;
  pid_t process = 0;  // 0: a thread
  int taken = -1;
  std::vector<std::byte> unprotected;
  std::thread thread;
  std::optional<Exchange> exchange;
};

Helper::Helper(HelperWork work, std::string about) : impl_(std::make_unique<Impl>(work, std::move(about))) {}
Helper::~Helper() = default;

void Helper::allow(double seconds) { impl_->seconds = seconds; }

void Helper::ask(std::string_view question) {
  impl_->begun = secondsOf(impl_->process);
  impl_->waited = 0;
  try {
    impl_->exchange->send(kPlain, question);
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
    const Exchange::Message message = impl_->exchange->receiveInto(to, kPlain);
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
