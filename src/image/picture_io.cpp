// SPDX-License-Identifier: Apache-2.0
#include "image/picture_io.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <mutex>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "image/segments.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr double kMaxPixels = 1e9;
constexpr std::size_t kProbe = std::size_t{1} << 20;
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

// A JPEG or PNG whole, looked over for damage that the decoders would pass over in silence or shout about;
// nothing of other files.
std::string undamaged(const fs::path& path, std::string_view begin) {
  if (!isJpeg(begin) && !isPng(begin)) return {};
  std::string bytes = readFile(path, kMaxFileBytes);
  const std::string damage = damageOf(bytes);
  if (!damage.empty()) throw Error(fmt::format("{}: {}", path.string(), damage));
  return bytes;
}

// Whether a format's writer can go through a stream. The one for TIFF cannot: it has to read what it has
// written, and is given nothing.
bool writesStreams(const std::string& extension) { return !extension.starts_with(".tif"); }

// The library's name for the format of a file, by how it begins, else by its extension.
std::string formatOf(std::string_view begin, const fs::path& path) {
  using namespace std::string_view_literals;
  if (isPng(begin)) return "png";
  if (isJpeg(begin)) return "jpeg";
  if (begin.starts_with("II*\0"sv) || begin.starts_with("MM\0*"sv)) {
    // Cameras' own files begin like this as well.
    const std::string extension = extensionOf(path);
    return extension.empty() || extension.starts_with(".tif") ? "tiff" : extension.substr(1);
  }
  if (begin.starts_with("RIFF") && begin.substr(8, 4) == "WEBP") return "webp";
  if (begin.starts_with("\x76\x2F\x31\x01")) return "openexr";
  const std::string extension = extensionOf(path);
  return extension.empty() ? std::string() : extension.substr(1);
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
  if (1.0 * spec.width * spec.height > kMaxPixels) {
    throw Error(fmt::format("{}: {}x{} is over one gigapixel; reduce it first", path.string(), spec.width,
                            spec.height));
  }
  if (spec.nchannels < 1) throw Error(fmt::format("{}: has no colour channels", path.string()));
}

// Pixels a side that the formats have room for.
constexpr int kMostWebp = 16383;
constexpr int kMostJpeg = 65535;

const char* const kExtensions[] = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".exr"};

}  // namespace

namespace {

// Whoever reads a profile first fills a table of the library's, which others that open a picture at that
// moment find half full: two pictures opened at once ended the program in one of ten runs. Pixels come
// afterwards, side by side.
bool openOneByOne(OIIO::ImageInput& input, const std::string& name, OIIO::ImageSpec& spec,
                  const OIIO::ImageSpec& config) {
  static std::mutex one;
  const std::lock_guard<std::mutex> alone(one);
  return input.open(name, spec, config);
}

}  // namespace

PictureInput::PictureInput(const fs::path& path)
    : path_((requireReadableFile(path), path)), stream_(path, File::Mode::read) {
  std::string begin(16, '\0');
  begin.resize(stream_.pread(begin.data(), begin.size(), 0));
  std::string bytes = undamaged(path, begin);
  OIIO::Filesystem::IOProxy* from = &stream_;
  // The reader of JPEGs takes no other streams than those over memory.
  if (isJpeg(begin)) {
    jpeg_ = std::move(bytes);
    from = &memory_.emplace(jpeg_.data(), jpeg_.size());
  }
  OIIO::ImageSpec config;
  OIIO::ImageSpec spec;
  config.attribute("oiio:UnassociatedAlpha", 1);
  const std::string format = formatOf(begin, path);
  if (!format.empty()) input_ = OIIO::ImageInput::create(format);
  const bool streams = input_ && input_->supports("ioproxy") && input_->set_ioproxy(from);
  const bool opened = input_ && openOneByOne(*input_, streams ? "picture" : path.string(), spec, config);
  if (stream_.failure())
    throw DiskError(fmt::format("{}: cannot be read", path.string()), *stream_.failure());
  if (!opened) {
    OIIO::geterror();
    throw Error(
        fmt::format("{}: is not a picture that can be read (PNG, JPEG, TIFF, WebP, OpenEXR), or is truncated",
                    path.string()));
  }
  requireSaneSize(input_->spec(), path);
}

bool PictureInput::linear() const { return std::string_view(input_->format_name()) == "openexr"; }

void PictureInput::read(int channels, OIIO::TypeDesc type, void* to) {
  const bool whole = input_->read_image(0, 0, 0, channels, type, to);
  if (stream_.failure())
    throw DiskError(fmt::format("{}: cannot be read", path_.string()), *stream_.failure());
  if (!whole) failReading();
}

void PictureInput::readThrough() {
  constexpr int kRows = 64;
  const OIIO::ImageSpec spec = input_->spec();
  std::vector<std::byte> rows(spec.scanline_bytes(true) * kRows);
  for (int y = 0; y < spec.height; y += kRows) {
    const int end = std::min(spec.height, y + kRows);
    if (!input_->read_scanlines(0, 0, y, end, 0, 0, spec.nchannels, spec.format, rows.data())) failReading();
  }
}

void PictureInput::failReading() {
  const OIIO::ImageSpec spec = input_->spec();
  std::vector<std::byte> row(spec.scanline_bytes(true));
  int good = 0;
  while (good < spec.height && input_->read_scanlines(0, 0, spec.y + good, spec.y + good + 1, 0, 0,
                                                      spec.nchannels, spec.format, row.data()))
    ++good;
  input_->geterror();  // the library's own words are left behind
  throw Error(fmt::format("{}: is damaged or truncated {}; copy it again, or save it anew", path_.string(),
                          good > 0 && good < spec.height
                              ? fmt::format("from row {} of {} on", good + 1, spec.height)
                              : fmt::format("and none of its {} rows can be relied on", spec.height)));
}

void requireRoom(const fs::path& target, int width, int height) {
  const std::string extension = extensionOf(target);
  const bool jpeg = extension == ".jpg" || extension == ".jpeg";
  if (!jpeg && extension != ".webp") return;
  const int most = jpeg ? kMostJpeg : kMostWebp;
  if (std::max(width, height) <= most) return;
  throw Error(fmt::format(
      "cannot write {}: {}x{} is too large for its format, which has room for {} pixels a side; name the "
      "result .png or .tif",
      target.string(), width, height, most));
}

PictureOutput::PictureOutput(const fs::path& target, const std::string& extension)
    : target_(target),
      file_(target, AtomicFile::Appeared::kept),
      output_(OIIO::ImageOutput::create(extension.substr(1))) {
  if (output_ && writesStreams(extension))
    output_->set_ioproxy(&stream_.emplace(file_.temporary(), File::Mode::write));
  if (output_) return;
  OIIO::geterror();
  throw Error(
      fmt::format("cannot write {}: this installation has no writer for {}", target.string(), extension));
}

PictureOutput::~PictureOutput() {
  if (closed_ || std::string_view(output_->format_name()) != "png") return;
  // libpng complains on the terminal of a picture that is given up half way, so it gets its rows.
  const OIIO::ImageSpec& spec = output_->spec();
  const std::vector<std::byte> black(spec.scanline_bytes(false));
  while (next_ < spec.height && output_->write_scanline(next_, 0, spec.format, black.data())) ++next_;
}

bool PictureOutput::failed() const { return stream_ && stream_->failure(); }

void PictureOutput::fail() {
  output_->geterror();  // the library's own words are left behind
  const std::string what = fmt::format("cannot write {}", target_.string());
  if (failed()) throw DiskError(what, *stream_->failure());
  try {
    // The library does not say why: what a little more fails of, it failed of.
    File(file_.temporary(), File::Mode::append).write(std::string(kProbe, ' '));
  } catch (const DiskError& e) {
    throw DiskError(what, e.reason());
  }
  const OIIO::ImageSpec& spec = output_->spec();
  throw Error(fmt::format("{}: its format did not take a picture of {}x{}; name the result .png or .tif",
                          what, spec.width, spec.height));
}

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

void PictureOutput::open(const OIIO::ImageSpec& spec, bool append) {
  const std::string_view format = output_->format_name();
  const auto mode = append ? OIIO::ImageOutput::AppendSubimage : OIIO::ImageOutput::Create;
  next_ = 0;
  const std::string name = stream_ ? "picture" : file_.temporary().string();
  if (!output_->open(name, withoutForeignTags(spec, format), mode) || failed()) fail();
}

void PictureOutput::writeRows(int begin, int end, OIIO::TypeDesc type, const void* rows,
                              OIIO::stride_t stride) {
  next_ = end;
  if (!output_->write_scanlines(begin, end, 0, type, rows, stride) || failed()) fail();
}

void PictureOutput::close() {
  closed_ = true;
  if (!output_->close() || failed()) fail();
  if (stream_) return;
  // Unseen errors may be left: what cannot be read back is not kept.
  try {
    PictureInput(file_.temporary()).readThrough();
  } catch (const Error&) {
    fail();
  }
}

void PictureOutput::change(const std::function<void(const fs::path& file)>& how) {
  try {
    how(file_.temporary());
  } catch (const DiskError& e) {
    throw DiskError(fmt::format("cannot write {}", target_.string()), e.reason());
  }
}

void PictureOutput::commit() { file_.commit(); }

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
