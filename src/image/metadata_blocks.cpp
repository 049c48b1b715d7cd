// SPDX-License-Identifier: Apache-2.0
#include "image/metadata_blocks.h"

#include <zlib.h>

#include <algorithm>
#include <cstdint>
#include <map>
#include <span>
#include <vector>

#include "base/error.h"
#include "base/file.h"
#include "image/segments.h"

namespace jugendstil {
namespace {

using namespace std::string_literals;

const std::string kExif = "Exif\0\0"s;
const std::string kXmp = "http://ns.adobe.com/xap/1.0/\0"s;
const std::string kIcc = "ICC_PROFILE\0"s;
const std::string kPngXmp = "XML:com.adobe.xmp\0\0\0\0\0"s;
constexpr std::size_t kSegmentRoom = 65533;
// Writers put everything but the pixels in front of them.
constexpr std::size_t kMostHead = std::size_t{80} << 20;
constexpr std::size_t kMostProfile = std::size_t{64} << 20;

bool isJpegMetadata(const FileSegment& p) {
  return (p.kind == "\xE1" && (p.data.starts_with(kExif) || p.data.starts_with(kXmp))) ||
         (p.kind == "\xE2" && p.data.starts_with(kIcc));
}

bool isPngMetadata(const FileSegment& p) {
  static const std::vector<std::string> kinds{"eXIf", "iCCP", "sRGB", "gAMA", "cHRM"};
  return std::find(kinds.begin(), kinds.end(), p.kind) != kinds.end() ||
         (p.kind == "iTXt" && p.data.starts_with(kPngXmp.substr(0, 18)));
}

std::string inflated(std::string_view packed) {
  std::string out;
  z_stream stream{};
  if (inflateInit(&stream) != Z_OK) return {};
  stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(packed.data()));
  stream.avail_in = static_cast<uInt>(packed.size());
  std::string part(65536, '\0');
  int state = Z_OK;
  while (state == Z_OK && out.size() < kMostProfile) {
    stream.next_out = reinterpret_cast<Bytef*>(part.data());
    stream.avail_out = static_cast<uInt>(part.size());
    state = inflate(&stream, Z_NO_FLUSH);
    out.append(part, 0, part.size() - stream.avail_out);
  }
  inflateEnd(&stream);
  return state == Z_STREAM_END ? out : std::string();
}

std::string deflated(const std::string& plain) {
  uLongf size = compressBound(static_cast<uLong>(plain.size()));
  std::string out(size, '\0');
  compress(reinterpret_cast<Bytef*>(out.data()), &size, reinterpret_cast<const Bytef*>(plain.data()),
           static_cast<uLong>(plain.size()));
  out.resize(size);
  return out;
}

std::string segment(char marker, const std::string& data) {
  if (data.size() > kSegmentRoom) {
    throw Error(
        "the photo's metadata is too long for a JPEG; write a PNG or TIFF, or strip the metadata first");
  }
  return "\xFF"s + marker + bigEndianBytes(data.size() + 2, 2) + data;
}

MetadataBlocks fromJpeg(std::string_view file) {
  MetadataBlocks blocks;
  std::map<int, std::string> profile;
  std::string_view rest;
  for (const FileSegment& p : jpegSegments(file, rest)) {
    if (!isJpegMetadata(p)) continue;
    if (p.data.starts_with(kExif) && blocks.exif.empty()) blocks.exif = p.data.substr(kExif.size());
    if (p.data.starts_with(kXmp) && blocks.xmp.empty()) blocks.xmp = p.data.substr(kXmp.size());
    if (p.data.starts_with(kIcc) && p.data.size() > kIcc.size() + 2) {
      profile[static_cast<unsigned char>(p.data[kIcc.size()])] = p.data.substr(kIcc.size() + 2);
    }
  }
  for (const auto& [index, part] : profile) blocks.icc += part;
  return blocks;
}

MetadataBlocks fromPng(std::string_view file) {
  MetadataBlocks blocks;
  for (const FileSegment& p : pngChunks(file)) {
    if (p.kind == "eXIf") blocks.exif = p.data;
    if (p.kind == "iTXt" && p.data.starts_with(kPngXmp)) blocks.xmp = p.data.substr(kPngXmp.size());
    const auto name = p.data.find('\0');
    if (p.kind == "iCCP" && name != std::string_view::npos && name + 2 < p.data.size()) {
      blocks.icc = inflated(p.data.substr(name + 2));
    }
  }
  return blocks;
}

// Both give the file's new beginning; `rest` is where the old file goes on from there.
std::string jpegHead(std::string_view file, const MetadataBlocks& blocks, std::string_view& rest) {
  const auto pieces = jpegSegments(file, rest);
  std::string out(file.substr(0, 2));
  // JFIF's own segment comes first where there is one.
  for (const FileSegment& p : pieces) {
    if (p.kind == "\xE0") out += p.whole;
  }
  if (!blocks.exif.empty()) out += segment('\xE1', kExif + blocks.exif);
  if (!blocks.xmp.empty()) out += segment('\xE1', kXmp + blocks.xmp);
  constexpr std::size_t kPart = 65000;
  const std::size_t parts = (blocks.icc.size() + kPart - 1) / kPart;
  for (std::size_t i = 0; i < parts; ++i) {
    out += segment('\xE2', kIcc + bigEndianBytes(i + 1, 1) + bigEndianBytes(parts, 1) +
                               blocks.icc.substr(i * kPart, kPart));
  }
  for (const FileSegment& p : pieces) {
    if (p.kind != "\xE0" && !isJpegMetadata(p)) out += p.whole;
  }
  return out;
}

std::string pngHead(std::string_view file, const MetadataBlocks& blocks, std::string_view& rest) {
  std::string out(file.substr(0, 8));
  rest = file.substr(8);
  for (const FileSegment& p : pngChunks(file)) {
    if (p.kind == "IDAT") break;
    rest = file.substr(p.whole.data() - file.data() + p.whole.size());
    if (isPngMetadata(p)) continue;
    out += p.whole;
    if (p.kind != "IHDR") continue;
    if (!blocks.icc.empty()) out += pngChunk("iCCP", "profile\0\0"s + deflated(blocks.icc));
    if (!blocks.exif.empty()) out += pngChunk("eXIf", blocks.exif);
    if (!blocks.xmp.empty()) out += pngChunk("iTXt", kPngXmp + blocks.xmp);
  }
  return out;
}

// What lies behind `from` comes to lie behind `to`, a part at a time, the last one first where it moves back.
void moveRest(File& file, std::uint64_t from, std::uint64_t to) {
  if (from == to) return;
  const std::uint64_t size = file.size() - from;
  std::vector<char> part(std::size_t{1} << 20);
  for (std::uint64_t done = 0; done < size;) {
    const std::uint64_t count = std::min<std::uint64_t>(part.size(), size - done);
    const std::uint64_t at = to < from ? done : size - done - count;
    const std::size_t got = file.readAt(std::span(part).first(count), from + at);
    file.writeAt({part.data(), got}, to + at);
    done += count;
  }
  if (to > from) return;
  std::error_code code;
  std::filesystem::resize_file(file.path(), to + size, code);
  if (code) throw DiskError(file.path().string() + " cannot be written", code.message());
}

}  // namespace

MetadataBlocks metadataBlocksOf(std::string_view file) {
  if (isJpeg(file)) return fromJpeg(file);
  if (isPng(file)) return fromPng(file);
  return {};
}

void putMetadataBlocks(const std::filesystem::path& file, const MetadataBlocks& blocks) {
  File whole(file, File::Mode::write);
  std::string begin(std::min<std::uint64_t>(kMostHead, whole.size()), '\0');
  begin.resize(whole.readAt(begin, 0));
  std::string_view rest;
  std::string head;
  if (isJpeg(begin)) {
    head = jpegHead(begin, blocks, rest);
  } else if (isPng(begin)) {
    head = pngHead(begin, blocks, rest);
  } else {
    throw Error("metadata can be put into JPEG and PNG files only");
  }
  moveRest(whole, rest.data() - begin.data(), head.size());
  whole.writeAt(head, 0);
  whole.close();
}

}  // namespace jugendstil
