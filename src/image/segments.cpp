// SPDX-License-Identifier: Apache-2.0
#include "image/segments.h"

#include <zlib.h>

#include <array>

namespace jugendstil {
namespace {

std::uint32_t checkSumOf(std::string_view bytes) {
  return static_cast<std::uint32_t>(
      crc32(0, reinterpret_cast<const Bytef*>(bytes.data()), static_cast<uInt>(bytes.size())));
}

}  // namespace

bool isJpeg(std::string_view file) { return file.starts_with("\xFF\xD8\xFF"); }
bool isPng(std::string_view file) { return file.starts_with("\x89PNG\r\n\x1a\n"); }

std::uint32_t bigEndian(std::string_view bytes, std::size_t at, std::size_t count) {
  std::uint32_t value = 0;
  for (std::size_t i = 0; i < count; ++i) value = value << 8 | static_cast<unsigned char>(bytes[at + i]);
  return value;
}

std::string bigEndianBytes(std::size_t value, int count) {
  std::string out;
  for (int i = count - 1; i >= 0; --i) out += static_cast<char>(value >> (8 * i) & 0xFF);
  return out;
}

std::vector<FileSegment> jpegSegments(std::string_view file, std::string_view& rest) {
  std::vector<FileSegment> segments;
  std::size_t at = 2;
  while (at + 4 <= file.size() && file[at] == '\xFF' && file[at + 1] != '\xDA') {
    const std::size_t length = bigEndian(file, at + 2, 2);
    if (length < 2 || at + 2 + length > file.size()) break;
    segments.push_back(
        {std::string(1, file[at + 1]), file.substr(at + 4, length - 2), file.substr(at, 2 + length)});
    at += 2 + length;
  }
  rest = file.substr(at);
  return segments;
}

std::vector<FileSegment> pngChunks(std::string_view file) {
  std::vector<FileSegment> chunks;
  for (std::size_t at = 8; at + 12 <= file.size();) {
    const std::size_t length = bigEndian(file, at, 4);
    if (at + 12 + length > file.size()) break;
    chunks.push_back(
        {std::string(file.substr(at + 4, 4)), file.substr(at + 8, length), file.substr(at, 12 + length)});
    if (chunks.back().kind == "IEND") break;
    at += 12 + length;
  }
  return chunks;
}

namespace {

// Every block of 64 pixels takes a bit at the least, for its mean.
constexpr std::size_t kMostPixelsPerByte = std::size_t{64} * 8;

// As a JPEG's frame header says; 0 where there is none.
std::size_t pixelsOf(const std::vector<FileSegment>& segments) {
  for (const FileSegment& segment : segments) {
    const auto marker = static_cast<unsigned char>(segment.kind.front());
    const bool frame = marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC;
    if (frame && segment.data.size() >= 5)
      return std::size_t{1} * bigEndian(segment.data, 1, 2) * bigEndian(segment.data, 3, 2);
  }
  return 0;
}

// Deflate (RFC 1951) repeats 258 bytes for two bits.
constexpr std::size_t kMostBytesPerByte = 1032;

// Of a PNG's pixels, as its header says.
std::size_t rawBytesOf(const FileSegment& header) {
  if (header.kind != "IHDR" || header.data.size() < 10) return 0;
  constexpr std::array<std::size_t, 7> kChannels{1, 1, 3, 1, 2, 1, 4};
  const std::size_t kind = bigEndian(header.data, 9, 1);
  const std::size_t bits = bigEndian(header.data, 8, 1) * (kind < kChannels.size() ? kChannels.at(kind) : 1);
  return (bigEndian(header.data, 0, 4) * bits + 7) / 8 * bigEndian(header.data, 4, 4);
}

}  // namespace

std::string damageOf(std::string_view file) {
  if (isJpeg(file)) {
    std::string_view scan;
    const auto segments = jpegSegments(file, scan);
    // The end marker is looked for behind the start of the scan, past whatever thumbnails stand in front.
    if (!scan.starts_with("\xFF\xDA") || scan.find("\xFF\xD9") == std::string_view::npos)
      return "the JPEG is truncated, its end is missing; copy it again";
    if (pixelsOf(segments) > kMostPixelsPerByte * file.size())
      return "the JPEG says it has more pixels than so short a file can hold; it is damaged, copy it again";
  }
  if (isPng(file)) {
    const auto chunks = pngChunks(file);
    for (const FileSegment& chunk : chunks) {
      const std::string_view summed = chunk.whole.substr(4, chunk.data.size() + 4);
      if (checkSumOf(summed) != bigEndian(chunk.whole, chunk.data.size() + 8, 4))
        return "the PNG is damaged, a check sum is wrong; copy it again";
    }
    if (chunks.empty() || chunks.back().kind != "IEND")
      return "the PNG is truncated, its end is missing; copy it again";
    if (rawBytesOf(chunks.front()) > kMostBytesPerByte * file.size())
      return "the PNG says it has more pixels than so short a file can hold; it is damaged, copy it again";
  }
  return {};
}

std::string pngChunk(const std::string& name, const std::string& data) {
  const std::string body = name + data;
  return bigEndianBytes(data.size(), 4) + body + bigEndianBytes(checkSumOf(body), 4);
}

}  // namespace jugendstil
