#include "image/picture_io.h"

#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <cstdint>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr double kMaxPixels = 1e9;
constexpr std::size_t kMaxFileBytes = std::size_t{8} << 30;

void requireReadableFile(const fs::path& path) {
  std::error_code code;
  if (!fs::exists(path, code)) throw Error(fmt::format("{}: no such file", path.string()));
  if (fs::is_directory(path, code)) {
    throw Error(fmt::format("{}: is a folder; name one picture in it", path.string()));
  }
  const auto size = fs::file_size(path, code);
  if (!code && size == 0) throw Error(fmt::format("{}: the file is empty", path.string()));
  if (!code && size > kMaxFileBytes) throw Error(fmt::format("{}: the file is over 8 GB", path.string()));
}

// JPEG decoders fill a missing rest with grey and call it a success, so the end marker is looked for in
// the file: after the start of scan, past whatever thumbnails stand in front.
bool jpegIsTruncated(const std::string& bytes) {
  std::size_t at = 2;
  while (at + 4 <= bytes.size()) {
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(bytes[i]); };
    if (byte(at) != 0xFF) return true;
    if (byte(at + 1) == 0xDA) return bytes.find("\xFF\xD9", at) == std::string::npos;
    at += 2 + static_cast<std::size_t>(byte(at + 2) << 8 | byte(at + 3));
  }
  return true;
}

std::uint32_t bigEndian(const std::string& bytes, std::size_t at) {
  std::uint32_t value = 0;
  for (std::size_t i = 0; i < 4; ++i) value = value << 8 | static_cast<unsigned char>(bytes[at + i]);
  return value;
}

// libpng reports damage on the terminal, so the chunks' lengths and check sums are looked at before it
// sees them. Only the empty string is good news.
std::string pngDamage(const std::string& bytes) {
  for (std::size_t at = 8; at + 12 <= bytes.size();) {
    const std::size_t length = bigEndian(bytes, at);
    if (at + 12 + length > bytes.size()) return "the PNG is truncated, its end is missing; copy it again";
    const auto* data = reinterpret_cast<const Bytef*>(bytes.data() + at + 4);
    if (crc32(0, data, static_cast<uInt>(length + 4)) != bigEndian(bytes, at + 8 + length)) {
      return "the PNG is damaged, a check sum is wrong; copy it again";
    }
    if (bytes.compare(at + 4, 4, "IEND") == 0) return {};
    at += 12 + length;
  }
  return "the PNG is truncated, its end is missing; copy it again";
}

// Damage that the decoders would pass over in silence or shout about.
void requireUndamaged(const fs::path& path) {
  const std::string bytes = readFile(path, kMaxFileBytes);
  if (bytes.compare(0, 4, "\x89PNG") == 0) {
    const std::string damage = pngDamage(bytes);
    if (!damage.empty()) throw Error(fmt::format("{}: {}", path.string(), damage));
  }
  if (bytes.compare(0, 3, "\xFF\xD8\xFF") == 0 && jpegIsTruncated(bytes)) {
    throw Error(fmt::format("{}: the JPEG is truncated, its end is missing; copy it again", path.string()));
  }
}

// What must not travel to a picture of another size, orientation, depth or colour space.
bool belongsToOldPixels(const std::string& name) {
  static constexpr const char* kPrefixes[] = {"oiio:",
                                              "ICCProfile",
                                              "Orientation",
                                              "tiff:",
                                              "jpeg:",
                                              "png:",
                                              "webp:",
                                              "openexr:",
                                              "thumbnail",
                                              "compression",
                                              "PixelAspectRatio",
                                              "planarconfig",
                                              "Exif:PixelXDimension",
                                              "Exif:PixelYDimension",
                                              "Exif:ColorSpace",
                                              "chromaticities",
                                              "worldtocamera"};
  return std::any_of(std::begin(kPrefixes), std::end(kPrefixes),
                     [&](const char* prefix) { return name.rfind(prefix, 0) == 0; });
}

void requireSaneSize(const OIIO::ImageSpec& spec, const fs::path& path) {
  if (spec.width < 1 || spec.height < 1) throw Error(fmt::format("{}: has no pixels", path.string()));
  if (static_cast<double>(spec.width) * spec.height > kMaxPixels) {
    throw Error(fmt::format("{}: {}x{} is over one gigapixel; reduce it first", path.string(), spec.width,
                            spec.height));
  }
  if (spec.nchannels < 1) throw Error(fmt::format("{}: has no colour channels", path.string()));
}

const char* const kExtensions[] = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".exr"};

}  // namespace

std::string firstLine(std::string text) {
  const auto end = text.find('\n');
  if (end != std::string::npos) text.resize(end);
  return text;
}

std::unique_ptr<OIIO::ImageInput> openPicture(const fs::path& path) {
  requireReadableFile(path);
  requireUndamaged(path);
  OIIO::ImageSpec config;
  config.attribute("oiio:UnassociatedAlpha", 1);
  auto input = OIIO::ImageInput::open(path.string(), &config);
  if (!input) {
    OIIO::geterror();
    throw Error(
        fmt::format("{}: is not a picture that can be read (PNG, JPEG, TIFF, WebP, OpenEXR), or is truncated",
                    path.string()));
  }
  requireSaneSize(input->spec(), path);
  return input;
}

Depth depthOf(OIIO::TypeDesc format) {
  if (format.is_floating_point()) return Depth::floating;
  return format.basesize() > 1 ? Depth::sixteen : Depth::eight;
}

std::string iccOf(const OIIO::ImageSpec& spec) {
  const OIIO::ParamValue* value = spec.find_attribute("ICCProfile");
  if (value == nullptr) return {};
  return {static_cast<const char*>(value->data()), static_cast<std::size_t>(value->datasize())};
}

std::shared_ptr<const Metadata> keepMetadata(const OIIO::ImageSpec& spec) {
  auto kept = std::make_shared<Metadata>();
  for (const OIIO::ParamValue& value : spec.extra_attribs) {
    if (!belongsToOldPixels(value.name().string())) kept->attributes.push_back(value);
  }
  return kept;
}

OIIO::TypeDesc storedType(const std::string& ext, Depth depth) {
  if (ext == ".exr") return OIIO::TypeDesc::HALF;
  const bool deep = ext == ".png" || ext == ".tif" || ext == ".tiff";
  return deep && depth != Depth::eight ? OIIO::TypeDesc::UINT16 : OIIO::TypeDesc::UINT8;
}

void setCompression(OIIO::ImageSpec& spec, const std::string& ext) {
  if (ext == ".jpg" || ext == ".jpeg") {
    spec.attribute("Compression", "jpeg:95");
    spec.attribute("jpeg:subsampling", "4:4:4");
  }
  if (ext == ".webp") spec.attribute("Compression", "webp:92");
  if (ext == ".tif" || ext == ".tiff") spec.attribute("Compression", "zip");
}

void requireWritableName(const fs::path& path) {
  const std::string ext = extensionOf(path);
  if (std::find(std::begin(kExtensions), std::end(kExtensions), ext) == std::end(kExtensions)) {
    throw UsageError(fmt::format(
        "cannot tell the format of {}: end its name in .png, .jpg, .tif, .webp or .exr", path.string()));
  }
}

}  // namespace jugendstil
