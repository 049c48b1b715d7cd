// SPDX-License-Identifier: Apache-2.0
#include "base/state_file.h"

#include <fmt/format.h>
#include <zlib.h>

#include <array>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// The file: these words, the making's length and text, the values, and at the end the check sum (CRC-32) of
// all that.
constexpr std::string_view kHead = "jugendstil state 1\n";
constexpr std::size_t kSumBytes = sizeof(std::uint32_t);
constexpr std::uint64_t kMostMaking = std::uint64_t{1} << 24;
// Small values are gathered.
constexpr std::size_t kBlock = std::size_t{1} << 20;

std::uint32_t summed(std::uint32_t sum, std::string_view bytes) {
  return static_cast<std::uint32_t>(
      crc32_z(sum, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size()));
}

struct Opened {
  File file;
  std::string making;
  std::uint64_t begin = 0;  // of the values
  std::uint64_t end = 0;
};

// A sound state file; none where there is none.
std::optional<Opened> opened(const fs::path& path) {
  std::error_code code;
  if (!fs::is_regular_file(path, code)) return std::nullopt;
  Opened state{File(path, File::Mode::read), "", 0, 0};
  const std::uint64_t size = state.file.size();
  if (size < kHead.size() + sizeof(std::uint64_t) + kSumBytes) return std::nullopt;
  state.end = size - kSumBytes;
  std::vector<char> block(kBlock);
  std::uint32_t sum = 0;
  for (std::uint64_t at = 0; at < state.end;) {
    const std::size_t n =
        state.file.readAt(std::span(block).first(std::min<std::uint64_t>(kBlock, state.end - at)), at);
    if (n == 0) return std::nullopt;
    sum = summed(sum, {block.data(), n});
    at += n;
  }
  std::uint32_t kept = 0;
  std::uint64_t length = 0;
  std::string head(kHead.size(), ' ');
  state.file.readAt({reinterpret_cast<char*>(&kept), kSumBytes}, state.end);
  state.file.readAt(head, 0);
  state.file.readAt({reinterpret_cast<char*>(&length), sizeof(length)}, kHead.size());
  state.begin = kHead.size() + sizeof(length) + length;
  if (kept != sum || head != kHead || length > kMostMaking || state.begin > state.end) return std::nullopt;
  state.making.resize(length);
  state.file.readAt(state.making, kHead.size() + sizeof(length));
  return state;
}

}  // namespace

struct StateWriter::Impl {
  AtomicFile target;
  File file;
  std::uint32_t sum = 0;
  std::string block;

  explicit Impl(const fs::path& path) : target(path), file(target.temporary(), File::Mode::write) {}

  void put(std::string_view bytes) {
    if (bytes.empty()) return;
    sum = summed(sum, bytes);
    if (block.size() + bytes.size() <= kBlock) {
      block += bytes;
      return;
    }
    flush();
    file.write(bytes);
  }
  void flush() {
    file.write(block);
    block.clear();
  }
};

StateWriter::StateWriter(const fs::path& target, const std::string& making)
    : impl_(std::make_unique<Impl>(target)) {
  const std::uint64_t length = making.size();
  impl_->put(kHead);
  impl_->put({reinterpret_cast<const char*>(&length), sizeof(length)});
  impl_->put(making);
}

StateWriter::~StateWriter() = default;

void StateWriter::bytes(std::span<char> data) { impl_->put({data.data(), data.size()}); }

void StateWriter::commit() {
  const std::uint32_t sum = impl_->sum;
  impl_->put({reinterpret_cast<const char*>(&sum), kSumBytes});
  impl_->flush();
  impl_->file.close();
  impl_->target.commit();
}

struct StateReader::Impl {
  Opened state;
  std::uint64_t at = 0;
};

StateReader::StateReader(const fs::path& file, const std::string& making) {
  auto state = opened(file);
  if (!state || state->making != making)
    throw Error(fmt::format("{}: is no state to go on from; remove it to begin anew", file.string()));
  const std::uint64_t begin = state->begin;
  impl_ = std::make_unique<Impl>(Impl{std::move(*state), begin});
}

StateReader::~StateReader() = default;

void StateReader::bytes(std::span<char> data) {
  for (std::size_t read = 0; read < data.size();) {
    const std::size_t wanted = std::min<std::uint64_t>(data.size() - read, impl_->state.end - impl_->at);
    const std::size_t n = wanted == 0 ? 0 : impl_->state.file.readAt(data.subspan(read, wanted), impl_->at);
    if (n == 0)
      throw Error(fmt::format("{}: ends early; remove it to begin anew", impl_->state.file.path().string()));
    read += n;
    impl_->at += n;
  }
}

std::optional<std::string> makingOfState(const fs::path& file) {
  auto state = opened(file);
  if (!state) return std::nullopt;
  return std::move(state->making);
}

}  // namespace jugendstil
