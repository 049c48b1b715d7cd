// SPDX-License-Identifier: Apache-2.0
// Values in messages between two processes of this program.
#pragma once

#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

#include "base/error.h"

namespace jugendstil {

// Puts values one behind the other.
class Packer {
 public:
  template <typename T>
  void value(const T& v) {
    static_assert(std::is_trivially_copyable_v<T>);
    bytes_.append(reinterpret_cast<const char*>(&v), sizeof(T));
  }
  template <typename T>
  void values(const std::vector<T>& v) {
    static_assert(std::is_trivially_copyable_v<T>);
    value<std::uint64_t>(v.size());
    bytes_.append(reinterpret_cast<const char*>(v.data()), v.size() * sizeof(T));
  }
  void text(std::string_view t) {
    value<std::uint64_t>(t.size());
    bytes_.append(t);
  }

  const std::string& bytes() const { return bytes_; }

 private:
  std::string bytes_;
};

// Takes them out again in the same order. Throws Error where a message is shorter than it says: it comes from
// where hostile files are read, and is not believed.
class Unpacker {
 public:
  explicit Unpacker(std::string_view bytes) : rest_(bytes) {}

  template <typename T>
  T value() {
    static_assert(std::is_trivially_copyable_v<T>);
    T v{};
    const std::string_view part = next(sizeof(T));
    std::memcpy(&v, part.data(), sizeof(T));
    return v;
  }
  template <typename T>
  std::vector<T> values() {
    const auto count = value<std::uint64_t>();
    if (count > rest_.size() / sizeof(T)) next(std::string_view::npos);
    const std::string_view part = next(count * sizeof(T));
    std::vector<T> v(count);
    if (count > 0) std::memcpy(v.data(), part.data(), part.size());
    return v;
  }
  std::string text() { return std::string(next(value<std::uint64_t>())); }

 private:
  std::string_view next(std::uint64_t count) {
    if (count > rest_.size()) throw Error("a message of a helper is cut short");
    const std::string_view part = rest_.substr(0, count);
    rest_.remove_prefix(count);
    return part;
  }

  std::string_view rest_;
};

}  // namespace jugendstil
