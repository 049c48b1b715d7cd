// SPDX-License-Identifier: Apache-2.0
// The state of long work in a file, so that it can go on after a stop, a crash or a power cut.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <type_traits>
#include <vector>

namespace jugendstil {

// What takes values into a file or gives them back: the same calls in the same order do both, so that what is
// written and what is read cannot part. Files are for the machine that wrote them.
class StateExchange {
 public:
  virtual ~StateExchange() = default;
  virtual bool reading() const = 0;

  template <typename T>
  void value(T& v) {
    static_assert(std::is_trivially_copyable_v<T>);
    bytes({reinterpret_cast<char*>(&v), sizeof(T)});
  }

  template <typename T>
  void values(std::vector<T>& v) {
    static_assert(std::is_trivially_copyable_v<T>);
    std::uint64_t count = v.size();
    value(count);
    if (reading()) v.resize(count);
    bytes({reinterpret_cast<char*>(v.data()), count * sizeof(T)});
  }

 protected:
  virtual void bytes(std::span<char> data) = 0;
};

// Writes beside the target; it takes the target's place at commit(), whole. Throws DiskError.
class StateWriter : public StateExchange {
 public:
  // `making` is text that holds everything the state depends on.
  StateWriter(const std::filesystem::path& target, const std::string& making);
  ~StateWriter() override;
  bool reading() const override { return false; }
  void commit();

 protected:
  void bytes(std::span<char> data) override;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

// Gives back what a StateWriter of the same making wrote. Throws Error where the file is missing, damaged or
// of another making, DiskError where the disk fails.
class StateReader : public StateExchange {
 public:
  StateReader(const std::filesystem::path& file, const std::string& making);
  ~StateReader() override;
  bool reading() const override { return true; }

 protected:
  void bytes(std::span<char> data) override;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

// The making of a state file; none where there is no file, or no sound one. Throws DiskError.
std::optional<std::string> makingOfState(const std::filesystem::path& file);

}  // namespace jugendstil
