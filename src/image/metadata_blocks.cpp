#include "image/metadata_blocks.h"

#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <cstdint>
#include <fstream>
#include <map>
#include <vector>

#include "base/atomic_file.h"
#include "base/error.h"

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

bool isJpeg(std::string_view file) { return file.substr(0, 3) == "\xFF\xD8\xFF"; }
bool isPng(std::string_view file) { return file.substr(0, 8) == "\x89PNG\r\n\x1a\n"; }
bool startsWith(std::string_view text, std::string_view with) { return text.substr(0, with.size()) == with; }

std::uint32_t bigEndian(std::string_view bytes, std::size_t at, std::size_t count) {
  std::uint32_t value = 0;
  for (std::size_t i = 0; i < count; ++i) value = value << 8 | static_cast<unsigned char>(bytes[at + i]);
  return value;
}

std::string bytesOf(std::size_t value, int count) {
  std::string out;
  for (int i = count - 1; i >= 0; --i) out += static_cast<char>(value >> (8 * i) & 0xFF);
  return out;
}

struct Piece {
  std::string kind;  // marker byte or chunk name
  std::string_view data;
  std::string_view whole;
};

// The segments in front of the scan; `rest` is everything from the scan on.
std::vector<Piece> jpegPieces(std::string_view file, std::string_view& rest) {
  std::vector<Piece> pieces;
  std::size_t at = 2;
  while (at + 4 <= file.size() && file[at] == '\xFF' && file[at + 1] != '\xDA') {
    const std::size_t length = bigEndian(file, at + 2, 2);
    if (length < 2 || at + 2 + length > file.size()) break;
    pieces.push_back(
        {std::string(1, file[at + 1]), file.substr(at + 4, length - 2), file.substr(at, 2 + length)});
    at += 2 + length;
  }
  rest = file.substr(at);
  return pieces;
}

std::vector<Piece> pngPieces(std::string_view file) {
  std::vector<Piece> pieces;
  for (std::size_t at = 8; at + 12 <= file.size();) {
    const std::size_t length = bigEndian(file, at, 4);
    if (at + 12 + length > file.size()) break;
    pieces.push_back(
        {std::string(file.substr(at + 4, 4)), file.substr(at + 8, length), file.substr(at, 12 + length)});
    at += 12 + length;
  }
  return pieces;
}

bool isJpegMetadata(const Piece& p) {
  return (p.kind == "\xE1" && (startsWith(p.data, kExif) || startsWith(p.data, kXmp))) ||
         (p.kind == "\xE2" && startsWith(p.data, kIcc));
}

bool isPngMetadata(const Piece& p) {
  static const std::vector<std::string> kinds{"eXIf", "iCCP", "sRGB", "gAMA", "cHRM"};
  return std::find(kinds.begin(), kinds.end(), p.kind) != kinds.end() ||
         (p.kind == "iTXt" && startsWith(p.data, kPngXmp.substr(0, 18)));
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
  return "\xFF"s + marker + bytesOf(data.size() + 2, 2) + data;
}

std::string chunk(const std::string& name, const std::string& data) {
  const std::string body = name + data;
  const auto sum = crc32(0, reinterpret_cast<const Bytef*>(body.data()), static_cast<uInt>(body.size()));
  return bytesOf(data.size(), 4) + body + bytesOf(sum, 4);
}

MetadataBlocks fromJpeg(std::string_view file) {
  MetadataBlocks blocks;
  std::map<int, std::string> profile;
  std::string_view rest;
  for (const Piece& p : jpegPieces(file, rest)) {
    if (!isJpegMetadata(p)) continue;
    if (startsWith(p.data, kExif) && blocks.exif.empty()) blocks.exif = p.data.substr(kExif.size());
    if (startsWith(p.data, kXmp) && blocks.xmp.empty()) blocks.xmp = p.data.substr(kXmp.size());
    if (startsWith(p.data, kIcc) && p.data.size() > kIcc.size() + 2) {
      profile[static_cast<unsigned char>(p.data[kIcc.size()])] = p.data.substr(kIcc.size() + 2);
    }
  }
  for (const auto& [index, part] : profile) blocks.icc += part;
  return blocks;
}

MetadataBlocks fromPng(std::string_view file) {
  MetadataBlocks blocks;
  for (const Piece& p : pngPieces(file)) {
    if (p.kind == "eXIf") blocks.exif = p.data;
    if (p.kind == "iTXt" && startsWith(p.data, kPngXmp)) blocks.xmp = p.data.substr(kPngXmp.size());
    const auto name = p.data.find('\0');
    if (p.kind == "iCCP" && name != std::string_view::npos && name + 2 < p.data.size()) {
      blocks.icc = inflated(p.data.substr(name + 2));
    }
  }
  return blocks;
}

// Both give the file's new beginning; `rest` is where the old file goes on from there.
std::string jpegHead(std::string_view file, const MetadataBlocks& blocks, std::string_view& rest) {
  const auto pieces = jpegPieces(file, rest);
  std::string out(file.substr(0, 2));
  // JFIF's own segment comes first where there is one.
  for (const Piece& p : pieces) {
    if (p.kind == "\xE0") out += p.whole;
  }
  if (!blocks.exif.empty()) out += segment('\xE1', kExif + blocks.exif);
  if (!blocks.xmp.empty()) out += segment('\xE1', kXmp + blocks.xmp);
  constexpr std::size_t kPart = 65000;
  const std::size_t parts = (blocks.icc.size() + kPart - 1) / kPart;
  for (std::size_t i = 0; i < parts; ++i) {
    out +=
        segment('\xE2', kIcc + bytesOf(i + 1, 1) + bytesOf(parts, 1) + blocks.icc.substr(i * kPart, kPart));
  }
  for (const Piece& p : pieces) {
    if (p.kind != "\xE0" && !isJpegMetadata(p)) out += p.whole;
  }
  return out;
}

std::string pngHead(std::string_view file, const MetadataBlocks& blocks, std::string_view& rest) {
  std::string out(file.substr(0, 8));
  rest = file.substr(8);
  for (const Piece& p : pngPieces(file)) {
    if (p.kind == "IDAT") break;
    rest = file.substr(static_cast<std::size_t>(p.whole.data() - file.data()) + p.whole.size());
    if (isPngMetadata(p)) continue;
    out += p.whole;
    if (p.kind != "IHDR") continue;
    if (!blocks.icc.empty()) out += chunk("iCCP", "profile\0\0"s + deflated(blocks.icc));
    if (!blocks.exif.empty()) out += chunk("eXIf", blocks.exif);
    if (!blocks.xmp.empty()) out += chunk("iTXt", kPngXmp + blocks.xmp);
  }
  return out;
}

void copyRest(std::ifstream& from, std::ofstream& to) {
  std::vector<char> part(std::size_t{1} << 20);
  while (from.read(part.data(), static_cast<std::streamsize>(part.size())) || from.gcount() > 0) {
    to.write(part.data(), from.gcount());
  }
}

}  // namespace

MetadataBlocks metadataBlocksOf(std::string_view file) {
  if (isJpeg(file)) return fromJpeg(file);
  if (isPng(file)) return fromPng(file);
  return {};
}

void putMetadataBlocks(const std::filesystem::path& file, const MetadataBlocks& blocks) {
  std::ifstream from(file, std::ios::binary);
  std::string begin(kMostHead, '\0');
  from.read(begin.data(), static_cast<std::streamsize>(begin.size()));
  begin.resize(static_cast<std::size_t>(from.gcount()));
  std::string_view rest;
  std::string head;
  if (isJpeg(begin)) {
    head = jpegHead(begin, blocks, rest);
  } else if (isPng(begin)) {
    head = pngHead(begin, blocks, rest);
  } else {
    throw Error("metadata can be put into JPEG and PNG files only");
  }
  AtomicFile whole(file);
  std::ofstream to(whole.temporary(), std::ios::binary);
  from.clear();
  from.seekg(rest.data() - begin.data());
  to.write(head.data(), static_cast<std::streamsize>(head.size()));
  copyRest(from, to);
  to.close();
  if (!to) throw Error(fmt::format("cannot write {}: is the disk full?", file.string()));
  whole.commit();
}

}  // namespace jugendstil
