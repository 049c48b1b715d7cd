// The one exception of the library.
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

}  // namespace jugendstil
