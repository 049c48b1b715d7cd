// SPDX-License-Identifier: Apache-2.0
#include "image/picture_io.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/file_name.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

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

const char* const kExtensions[] = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".exr"};

}  // namespace

bool isOfMetadata(const std::string& name) {
  constexpr std::string_view kOfWriters[] = {"oiio", "png", "jpeg", "tiff", "webp", "openexr"};
  const std::size_t colon = name.find(':');
  return colon != std::string::npos &&
         std::find(std::begin(kOfWriters), std::end(kOfWriters), std::string_view(name).substr(0, colon)) ==
             std::end(kOfWriters);
}

OIIO::ImageSpec withoutForeignTags(OIIO::ImageSpec spec, std::string_view format) {
  constexpr const char* kOfPng[] = {
      "Author",   "Artist",   "Title",      "DocumentName", "Description", "ImageDescription", "Copyright",
      "DateTime", "Software", "Disclaimer", "Warning",      "Source",      "Comment"};
  std::erase_if(spec.extra_attribs, [&](const OIIO::ParamValue& value) {
    const std::string name = value.name().string();
    if (format == "openexr") return isOfMetadata(name);
    return format == "png" && value.type() == OIIO::TypeDesc::STRING &&
           std::find(std::begin(kOfPng), std::end(kOfPng), name) == std::end(kOfPng);
  });
  return spec;
}

void requireNumbers(const Image& rows, int firstRow, const fs::path& path) {
  const auto bad =
      std::find_if(rows.pixels.begin(), rows.pixels.end(), [](float v) { return !std::isfinite(v); });
  if (bad == rows.pixels.end()) return;
  const std::size_t at = bad - rows.pixels.begin();
  throw Error(fmt::format("{}: the pixel at {},{} is not a number (NaN or infinite); repair the file first",
                          path.string(), at % rows.rowLength() / rows.channels,
                          at / rows.rowLength() + firstRow));
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

namespace {

OIIO::TypeDesc askedType(const std::string& ext, Depth depth) {
  const bool tiff = ext == ".tif" || ext == ".tiff";
  if (depth == Depth::eight && ext != ".exr") return OIIO::TypeDesc::UINT8;
  if (depth == Depth::sixteen && ext == ".exr") return OIIO::TypeDesc::HALF;
  if (depth == Depth::sixteen && (ext == ".png" || tiff)) return OIIO::TypeDesc::UINT16;
  if (depth == Depth::floating && (ext == ".exr" || tiff)) return OIIO::TypeDesc::FLOAT;
  const char* holds = ext == ".png"   ? "8 or 16 bits"
                      : ext == ".exr" ? "16-bit or 32-bit (float) floating point"
                                      : "8 bits";
  throw UsageError(fmt::format("depth: {} files hold {}; .tif holds 8, 16 and float", ext, holds));
}

}  // namespace

OIIO::TypeDesc storedType(const std::string& ext, Depth depth, const Encoding& encoding) {
  if (encoding.depth) return askedType(ext, *encoding.depth);
  if (ext == ".exr") return OIIO::TypeDesc::HALF;
  const bool deep = ext == ".png" || ext == ".tif" || ext == ".tiff";
  return deep && depth != Depth::eight ? OIIO::TypeDesc::UINT16 : OIIO::TypeDesc::UINT8;
}

void setCompression(OIIO::ImageSpec& spec, const std::string& ext, const Encoding& encoding) {
  if (ext == ".jpg" || ext == ".jpeg") {
    // Quality 0 means "the usual" to the library.
    spec.attribute("Compression", fmt::format("jpeg:{}", std::max(1, encoding.quality.value_or(95))));
    spec.attribute("jpeg:subsampling", "4:4:4");
  }
  if (ext == ".webp")
    spec.attribute("Compression", fmt::format("webp:{}", std::max(1, encoding.quality.value_or(92))));
  if (ext == ".tif" || ext == ".tiff") spec.attribute("Compression", "zip");
  if (ext == ".png" && encoding.quickly) {
    constexpr int kQuickest = 1;
    constexpr int kAverageFilter = 64;  // as libpng numbers them; to choose one for each row takes longer
    spec.attribute("png:compressionLevel", kQuickest);
    spec.attribute("png:filter", kAverageFilter);
  }
}

void leaveUndated(OIIO::ImageSpec& spec, const std::string& ext) {
  const bool dated = ext == ".tif" || ext == ".tiff" || ext == ".exr";
  // Blanks are EXIF's word for a date that is not known.
  if (dated && spec.find_attribute("DateTime") == nullptr) spec.attribute("DateTime", "    :  :     :  :  ");
}

void requireEncoding(const fs::path& path, const Encoding& encoding) {
  if (encoding.depth) askedType(extensionOf(path), *encoding.depth);
}

bool isPictureName(const fs::path& path) {
  return std::find(std::begin(kExtensions), std::end(kExtensions), extensionOf(path)) !=
         std::end(kExtensions);
}

void requireWritableName(const fs::path& path) {
  if (!isPictureName(path)) {
    throw UsageError(fmt::format(
        "cannot tell the format of {}: end its name in .png, .jpg, .tif, .webp or .exr", path.string()));
  }
}

}  // namespace jugendstil
