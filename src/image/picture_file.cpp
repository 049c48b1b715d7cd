#include "image/picture_file.h"

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <cmath>
#include <cstdint>

#include "image/atomic_file.h"
#include "image/colour.h"
#include "image/error.h"
#include "image/icc.h"

namespace jugendstil {

struct Metadata {
  OIIO::ParamValueList attributes;
};

namespace {

namespace fs = std::filesystem;

constexpr double kMaxPixels = 1e9;
constexpr std::size_t kMaxFileBytes = std::size_t{8} << 30;

std::string lowerExtension(const fs::path& path) {
  std::string ext = path.extension().string();
  std::transform(ext.begin(), ext.end(), ext.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return ext;
}

// One line: libraries report several, with their own prefixes.
std::string firstLine(std::string text) {
  const auto end = text.find('\n');
  if (end != std::string::npos) text.resize(end);
  return text;
}

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

Depth depthOf(OIIO::TypeDesc format) {
  if (format.is_floating_point()) return Depth::floating;
  return format.basesize() > 1 ? Depth::sixteen : Depth::eight;
}

Image toColour(Image image) {
  if (image.channels == 3 || image.channels == 4) return image;
  const bool alpha = image.channels == 2;
  Image out(image.width, image.height, alpha ? 4 : 3);
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) {
      out.pixels[i * static_cast<std::size_t>(out.channels) + c] =
          image.pixels[i * static_cast<std::size_t>(image.channels)];
    }
    if (alpha) out.pixels[i * 4 + 3] = image.pixels[i * 2 + 1];
  }
  return out;
}

void requireNumbers(const Image& image, const fs::path& path) {
  for (std::size_t i = 0; i < image.pixels.size(); ++i) {
    if (!std::isfinite(image.pixels[i])) {
      const std::size_t pixel = i / static_cast<std::size_t>(image.channels);
      throw Error(fmt::format(
          "{}: the pixel at {},{} is not a number (NaN or infinite); repair the file first", path.string(),
          pixel % static_cast<std::size_t>(image.width), pixel / static_cast<std::size_t>(image.width)));
    }
  }
}

Image readPixels(OIIO::ImageInput& input, const fs::path& path) {
  const OIIO::ImageSpec& spec = input.spec();
  if (spec.width < 1 || spec.height < 1) throw Error(fmt::format("{}: has no pixels", path.string()));
  if (static_cast<double>(spec.width) * spec.height > kMaxPixels) {
    throw Error(fmt::format("{}: {}x{} is over one gigapixel; reduce it first", path.string(), spec.width,
                            spec.height));
  }
  if (spec.nchannels < 1) throw Error(fmt::format("{}: has no colour channels", path.string()));
  const int channels = std::min(spec.nchannels, 4);
  Image image(spec.width, spec.height, channels);
  if (!input.read_image(0, 0, 0, channels, OIIO::TypeDesc::FLOAT, image.pixels.data())) {
    throw Error(fmt::format("{}: cannot be read to the end, it may be truncated ({})", path.string(),
                            firstLine(input.geterror())));
  }
  return image;
}

// OIIO's reorientation works on its own buffers; ours are copied in and out.
Image upright(const Image& image, int orientation) {
  if (orientation <= 1 || orientation > 8) return image;
  OIIO::ImageSpec spec(image.width, image.height, image.channels, OIIO::TypeDesc::FLOAT);
  spec.attribute("Orientation", orientation);
  OIIO::ImageBuf from(spec, const_cast<float*>(image.pixels.data()));
  from.specmod().attribute("Orientation", orientation);
  const OIIO::ImageBuf to = OIIO::ImageBufAlgo::reorient(from);
  Image out(to.spec().width, to.spec().height, image.channels);
  to.get_pixels(OIIO::ROI::All(), OIIO::TypeDesc::FLOAT, out.pixels.data());
  return out;
}

std::string iccOf(const OIIO::ImageSpec& spec) {
  const OIIO::ParamValue* value = spec.find_attribute("ICCProfile");
  if (value == nullptr) return {};
  return {static_cast<const char*>(value->data()), static_cast<std::size_t>(value->datasize())};
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

std::shared_ptr<const Metadata> keepMetadata(const OIIO::ImageSpec& spec) {
  auto kept = std::make_shared<Metadata>();
  for (const OIIO::ParamValue& value : spec.extra_attribs) {
    if (!belongsToOldPixels(value.name().string())) kept->attributes.push_back(value);
  }
  return kept;
}

const char* const kExtensions[] = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".exr"};

OIIO::TypeDesc storedType(const std::string& ext, Depth depth) {
  if (ext == ".exr") return OIIO::TypeDesc::HALF;
  const bool deep = ext == ".png" || ext == ".tif" || ext == ".tiff";
  return deep && depth != Depth::eight ? OIIO::TypeDesc::UINT16 : OIIO::TypeDesc::UINT8;
}

OIIO::ImageSpec specFor(const Image& image, const std::string& ext, Depth depth, const Metadata* metadata) {
  const bool jpeg = ext == ".jpg" || ext == ".jpeg";
  OIIO::ImageSpec spec(image.width, image.height, jpeg ? std::min(image.channels, 3) : image.channels,
                       storedType(ext, depth));
  if (metadata != nullptr) spec.extra_attribs = metadata->attributes;
  spec.attribute("Orientation", 1);
  spec.attribute("oiio:UnassociatedAlpha", 1);
  if (jpeg) spec.attribute("Compression", "jpeg:95");
  if (jpeg) spec.attribute("jpeg:subsampling", "4:4:4");
  if (ext == ".webp") spec.attribute("Compression", "webp:92");
  if (ext == ".tif" || ext == ".tiff") spec.attribute("Compression", "zip");
  if (ext == ".exr") {
    spec.attribute("oiio:ColorSpace", "Linear");
  } else {
    spec.attribute("oiio:ColorSpace", "sRGB");
    const std::string icc = srgbProfile();
    spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, static_cast<int>(icc.size())),
                   icc.data());
  }
  return spec;
}

}  // namespace

void requireWritableName(const fs::path& path) {
  const std::string ext = lowerExtension(path);
  if (std::find(std::begin(kExtensions), std::end(kExtensions), ext) == std::end(kExtensions)) {
    throw UsageError(fmt::format(
        "cannot tell the format of {}: end its name in .png, .jpg, .tif, .webp or .exr", path.string()));
  }
}

namespace {

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

}  // namespace

Picture readPicture(const fs::path& path) {
  requireReadableFile(path);
  requireUndamaged(path);
  OIIO::ImageSpec config;
  config.attribute("oiio:UnassociatedAlpha", 1);
  const auto input = OIIO::ImageInput::open(path.string(), &config);
  if (!input) {
    OIIO::geterror();
    throw Error(
        fmt::format("{}: is not a picture that can be read (PNG, JPEG, TIFF, WebP, OpenEXR), or is truncated",
                    path.string()));
  }
  const OIIO::ImageSpec spec = input->spec();
  const std::string format = input->format_name();
  Picture picture;
  picture.image = readPixels(*input, path);
  picture.depth = depthOf(spec.format);
  picture.metadata = keepMetadata(spec);
  requireNumbers(picture.image, path);
  picture.image = upright(picture.image, spec.get_int_attribute("Orientation", 1));
  // Two-channel pictures are grey with alpha; the alpha waits while the profile is applied.
  const std::string icc = iccOf(spec);
  if (picture.image.channels != 1) picture.image = toColour(std::move(picture.image));
  if (!icc.empty()) {
    picture.profile = profileName(icc);
    if (icc != srgbProfile()) convertToSrgb(picture.image, icc);
  } else if (format == "openexr") {
    picture.image = toDisplay(picture.image);
  }
  picture.image = toColour(std::move(picture.image));
  return picture;
}

void writePicture(const fs::path& path, const Image& image, Depth depth, const Metadata* metadata) {
  requireWritableName(path);
  const std::string ext = lowerExtension(path);
  const OIIO::ImageSpec spec = specFor(image, ext, depth, metadata);
  AtomicFile file(path);
  const auto output = OIIO::ImageOutput::create(file.temporary().string());
  if (!output) {
    OIIO::geterror();
    throw Error(fmt::format("cannot write {}: this installation has no writer for {}", path.string(), ext));
  }
  const Image linear = ext == ".exr" ? toLinear(image) : Image();
  const std::vector<float>& pixels = ext == ".exr" ? linear.pixels : image.pixels;
  const auto stride = static_cast<OIIO::stride_t>(static_cast<std::size_t>(image.channels) * sizeof(float));
  bool written = output->open(file.temporary().string(), spec) &&
                 output->write_image(OIIO::TypeDesc::FLOAT, pixels.data(), stride);
  const std::string reason = firstLine(output->geterror());
  written = output->close() && written;
  if (!written) {
    throw Error(
        fmt::format("cannot write {}: {}", path.string(), reason.empty() ? "is the disk full?" : reason));
  }
  // Some writers do not notice a full disk; what cannot be read back is not kept.
  try {
    readPicture(file.temporary());
  } catch (const Error&) {
    throw Error(
        fmt::format("cannot write {}: the file did not arrive whole; is the disk full?", path.string()));
  }
  file.commit();
}

}  // namespace jugendstil
