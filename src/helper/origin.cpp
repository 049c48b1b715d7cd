// SPDX-License-Identifier: Apache-2.0
#include "helper/origin.h"

#include <fcntl.h>
#include <signal.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/socket.h>
#include <unistd.h>

#include <array>
#include <bitset>
#include <cerrno>
#include <cstdint>
#include <cstring>
#include <mutex>

#include "helper/at_work.h"
#include "helper/exchange.h"
#include "helper/lockdown.h"

namespace jugendstil {
namespace {

// At work at the same time: a few files for each picture, a few pictures.
constexpr std::size_t kMostHelpers = 48;

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

// An order as the system carries it, with room for a socket beside it.
struct Letter {
  explicit Letter(Order& order) : part{&order, sizeof(order)} {
    message.msg_iov = &part;
    message.msg_iovlen = 1;
    message.msg_control = room.data();
    message.msg_controllen = room.size();
  }
  Letter(const Letter&) = delete;
  Letter& operator=(const Letter&) = delete;

  iovec part;
  alignas(cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> room{};
  msghdr message{};
};

// An order with its socket; -1 where nobody will order any more.
int received(int from, Order& order) {
  Letter letter(order);
  ssize_t n = 0;
  do n = recvmsg(from, &letter.message, MSG_CMSG_CLOEXEC);
  while (n < 0 && errno == EINTR);
  const cmsghdr* beside = n == static_cast<ssize_t>(sizeof(order)) ? CMSG_FIRSTHDR(&letter.message) : nullptr;
  if (beside == nullptr) return -1;
  int socket = -1;
  std::memcpy(&socket, CMSG_DATA(beside), sizeof(socket));
  return socket;
}

bool sendOrder(int to, Order order, int socket) {
  Letter letter(order);
  cmsghdr* beside = CMSG_FIRSTHDR(&letter.message);
  beside->cmsg_level = SOL_SOCKET;
  beside->cmsg_type = SCM_RIGHTS;
  beside->cmsg_len = CMSG_LEN(sizeof(int));
  std::memcpy(CMSG_DATA(beside), &socket, sizeof(socket));
  ssize_t n = 0;
  do n = sendmsg(to, &letter.message, MSG_NOSIGNAL);
  while (n < 0 && errno == EINTR);
  return n == static_cast<ssize_t>(sizeof(order));
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

}  // namespace

void startOrigin() {
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

bool hasOrigin() { return origin().wanted; }

int startProcess(HelperWork work, int socket, HelperProcess& made) {
  Origin& the = origin();
  const std::lock_guard<std::mutex> alone(the.one);
  if (the.reason != 0) return the.reason;
  std::size_t place = 0;
  while (place < kMostHelpers && the.taken[place]) ++place;
  if (place == kMostHelpers) return EAGAIN;
  const Order order{work, freeMemory(), static_cast<std::uint32_t>(place)};
  std::int32_t told = -ECHILD;
  if (sendOrder(the.socket, order, socket)) {
    ssize_t n = 0;
    do n = recv(the.socket, &told, sizeof(told), 0);
    while (n < 0 && errno == EINTR);
    if (n != static_cast<ssize_t>(sizeof(told))) told = -ECHILD;
  }
  if (told < 0) return -told;
  the.taken[place] = true;
  made = {told, static_cast<int>(place), memoryOf(the.pool, place)};
  return 0;
}

void freePlace(const HelperProcess& process) {
  if (process.place < 0) return;
  const std::lock_guard<std::mutex> alone(origin().one);
  origin().taken[process.place] = false;
}

}  // namespace jugendstil
