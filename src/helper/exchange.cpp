// SPDX-License-Identifier: Apache-2.0
#include "helper/exchange.h"

#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>

namespace jugendstil {
namespace {

// While one part is copied out, the next is written: small enough to stay in a processor's own memory.
constexpr std::size_t kParts = 2;
constexpr std::size_t kPart = Exchange::kMemory / 2 / kParts;
constexpr int kWaitMs = static_cast<int>(Exchange::kWait * 1000);

}  // namespace

Exchange::Exchange(int socket, std::span<std::byte> memory, bool first, std::function<void()> waiting)
    : socket_(socket),
      own_(first ? memory.first(kMemory / 2) : memory.subspan(kMemory / 2)),
      others_(first ? memory.subspan(kMemory / 2) : memory.first(kMemory / 2)),
      waiting_(std::move(waiting)) {}

Exchange::~Exchange() { close(socket_); }

bool Exchange::told(const Token& token) {
  for (;;) {
    const ssize_t n = ::send(socket_, &token, sizeof(token), MSG_NOSIGNAL);
    if (n >= 0 || errno != EINTR) return n == static_cast<ssize_t>(sizeof(token));
  }
}

void Exchange::tell(const Token& token) {
  if (!told(token)) throw SideGone();
}

Exchange::Token Exchange::hear() {
  for (;;) {
    pollfd waiting{socket_, POLLIN, 0};
    const int ready = poll(&waiting, 1, waiting_ ? kWaitMs : -1);
    if (ready == 0 || (ready < 0 && errno == EINTR)) {
      if (waiting_) waiting_();
      continue;
    }
    if (ready < 0) throw SideGone();
    Token token;
    const ssize_t n = recv(socket_, &token, sizeof(token), 0);
    // A side that went away with something unread: what it said before comes after this.
    if (n < 0 && (errno == EINTR || errno == ECONNRESET)) continue;
    if (n != static_cast<ssize_t>(sizeof(token))) throw SideGone();
    if (token.sign == Sign::taken && ++taken_ > put_) throw SideGone();
    return token;
  }
}

Exchange::Token Exchange::awaitOther() {
  if (!early_.empty()) {
    const Token token = early_.front();
    early_.pop_front();
    return token;
  }
  for (;;) {
    const Token token = hear();
    if (token.sign != Sign::taken) return token;
  }
}

void Exchange::send(char kind, std::string_view bytes) {
  tell({Sign::message, static_cast<std::uint32_t>(kind), bytes.size()});
  while (!bytes.empty()) {
    while (put_ - taken_ >= kParts) {
      const Token token = hear();
      if (token.sign == Sign::taken) continue;
      // One message and the parts that fit: more cannot be said before they are taken.
      if (early_.size() > kParts) throw SideGone();
      early_.push_back(token);
    }
    const std::size_t n = std::min(kPart, bytes.size());
    std::memcpy(&own_[put_ % kParts * kPart], bytes.data(), n);
    ++put_;
    tell({Sign::part, 0, n});
    bytes.remove_prefix(n);
  }
}

void Exchange::takeParts(std::span<std::byte> to) {
  while (!to.empty()) {
    const Token token = awaitOther();
    if (token.sign != Sign::part || token.size < 1 || token.size > std::min(kPart, to.size()))
      throw SideGone();
    std::memcpy(to.data(), &others_[got_ % kParts * kPart], token.size);
    ++got_;
    told({Sign::taken, 0, 0});  // nobody may wait for it any more: this was its last word
    to = to.subspan(token.size);
  }
}

Exchange::Message Exchange::rest(const Token& head, std::size_t most) {
  if (head.sign != Sign::message || head.size > most) throw SideGone();
  Message message{static_cast<char>(head.kind), std::string(head.size, '\0'), head.size};
  takeParts(std::as_writable_bytes(std::span(message.bytes)));
  return message;
}

Exchange::Message Exchange::receive(std::size_t most) { return rest(awaitOther(), most); }

Exchange::Message Exchange::receiveInto(std::span<std::byte> to, char kind) {
  const Token head = awaitOther();
  if (head.sign == Sign::message && head.kind == static_cast<std::uint32_t>(kind)) {
    if (head.size > to.size()) throw SideGone();
    takeParts(to.first(head.size));
    return {kind, {}, head.size};
  }
  constexpr std::size_t kMostElse = std::size_t{1} << 16;
  return rest(head, kMostElse);
}

bool Exchange::gone() {
  pollfd now{socket_, 0, 0};
  return poll(&now, 1, 0) > 0;
}

void Exchange::awaitEnd() {
  constexpr int kSecond = 1000;
  pollfd end{socket_, 0, 0};
  poll(&end, 1, kSecond);
}

}  // namespace jugendstil
