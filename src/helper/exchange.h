// SPDX-License-Identifier: Apache-2.0
// Messages between two processes, or two threads: their bytes go through memory that both see, and a socket
// says what lies there.
#pragma once

#include <cstddef>
#include <cstdint>
#include <deque>
#include <exception>
#include <functional>
#include <span>
#include <string>
#include <string_view>

namespace jugendstil {

// Thrown where the other side is there no more, or says what cannot be.
struct SideGone : std::exception {
  const char* what() const noexcept override { return "the other side of an exchange is gone"; }
};

// One of the two sides. Both send whole messages of a kind that they have agreed on; one that is sent while
// the other sends as well waits. Nothing that comes in is believed: sizes are checked, bytes copied.
class Exchange {
 public:
  // Of the memory each side writes one half.
  static constexpr std::size_t kMemory = std::size_t{1} << 21;
  // Seconds.
  static constexpr double kWait = 0.2;

  // `first`: which half of the memory is this side's to write. The socket is closed at the end. `waiting` is
  // called after each kWait in which there was nothing to do but to wait, and may throw.
  Exchange(int socket, std::span<std::byte> memory, bool first, std::function<void()> waiting = {});
  ~Exchange();
  Exchange(const Exchange&) = delete;
  Exchange& operator=(const Exchange&) = delete;

  // Throws SideGone.
  void send(char kind, std::string_view bytes);

  struct Message {
    char kind = 0;
    std::string bytes;
    std::size_t size = 0;
  };
  // The next message. Throws SideGone, also where it is longer than `most`.
  Message receive(std::size_t most);
  // The next message's bytes straight to where they are to lie, if it is of this kind and fits: `bytes` of
  // the result is empty then, and `size` tells how many they are. Any other message is given back.
  Message receiveInto(std::span<std::byte> to, char kind);

  bool gone();  // without waiting
  // Waits, a second at most, until it is.
  void awaitEnd();

 private:
  enum class Sign : std::uint32_t { message, part, taken };
  struct Token {
    Sign sign = Sign::taken;
    std::uint32_t kind = 0;
    std::uint64_t size = 0;
  };

  bool told(const Token& token);  // false where nobody is there
  void tell(const Token& token);
  Token hear();
  Token awaitOther();  // not `taken`
  void takeParts(std::span<std::byte> to);
  Message rest(const Token& head, std::size_t most);

  int socket_;
  std::span<std::byte> own_;
  std::span<std::byte> others_;
  std::function<void()> waiting_;
  std::deque<Token> early_;  // heard while sending
  std::uint64_t put_ = 0;    // parts of ours
  std::uint64_t taken_ = 0;  // of those
  std::uint64_t got_ = 0;    // parts of the other's
};

}  // namespace jugendstil
