// SPDX-License-Identifier: Apache-2.0
// The pieces of which JPEG and PNG files consist.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace jugendstil {

struct FileSegment {
  std::string kind;        // marker byte of a JPEG's, name of a PNG's
  std::string_view data;   // without what stands around it
  std::string_view whole;  // as it stands in the file
};

bool isJpeg(std::string_view file);
bool isPng(std::string_view file);

// The segments of a JPEG in front of its first scan, as far as they are whole; `rest` is the file from there
// on.
std::vector<FileSegment> jpegSegments(std::string_view file, std::string_view& rest);

// The chunks of a PNG to its end, as far as they are whole.
std::vector<FileSegment> pngChunks(std::string_view file);

// What is wrong with a JPEG or PNG that decoders pass over in silence or shout about, in a few words: an end
// that is missing, a check sum. Empty where nothing is, and for other files.
std::string damageOf(std::string_view file);

// Big-endian numbers, as both formats have them; `count` bytes, at most 4.
std::uint32_t bigEndian(std::string_view bytes, std::size_t at, std::size_t count);
std::string bigEndianBytes(std::size_t value, int count);

// A PNG chunk with its length and check sum.
std::string pngChunk(const std::string& name, const std::string& data);

}  // namespace jugendstil
