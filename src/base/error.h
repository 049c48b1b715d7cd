// SPDX-License-Identifier: Apache-2.0
// The exceptions of the library.
#pragma once

#include <stdexcept>
#include <string>

namespace jugendstil {

// Thrown for every failure the library reports. what() is one line for a person: what is wrong,
// where, and how to mend it.
class Error : public std::runtime_error {
 public:
  explicit Error(const std::string& message) : std::runtime_error(message) {}
};

// Bad options or settings rather than bad data or a failing machine; the program exits with 2 for it.
class UsageError : public Error {
 public:
  explicit UsageError(const std::string& message) : Error(message) {}
};

// The machine failed at reading or writing: a full disk, a broken one, a folder that went away. Nothing is
// wrong with what was read, so it is no reason to take it for damaged and go on without it.
class DiskError : public Error {
 public:
  DiskError(const std::string& what, const std::string& reason)
      : Error(what + ": " + reason), reason_(reason) {}
  // In the system's words, "No space left on device".
  const std::string& reason() const { return reason_; }

 private:
  std::string reason_;
};

}  // namespace jugendstil
