// SPDX-License-Identifier: Apache-2.0
#include "image/picture_decoder.h"

#include <fmt/format.h>

#include <algorithm>
#include <mutex>
#include <vector>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "image/segments.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr double kMaxPixels = 1e9;
// Bytes that are decoded at once, and rows: OpenEXR packs up to 256 of them together.
constexpr std::size_t kStrip = std::size_t{1} << 20;
constexpr int kFewestRows = 16;
constexpr std::size_t kMaxFileBytes = std::size_t{8} << 30;

void requireReadableFile(const fs::path& path) {
  std::error_code code;
  if (!fs::exists(path, code)) throw Error(fmt::format("{}: no such file", path.string()));
  if (fs::is_directory(path, code)) {
    throw Error(fmt::format("{}: is a folder; name one picture in it", path.string()));
  }
  requireRegularFile(path);
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

void requireSaneSize(const OIIO::ImageSpec& spec, const fs::path& path) {
  if (spec.width < 1 || spec.height < 1) throw Error(fmt::format("{}: has no pixels", path.string()));
  if (1.0 * spec.width * spec.height > kMaxPixels) {
    throw Error(fmt::format("{}: {}x{} is over one gigapixel; reduce it first", path.string(), spec.width,
                            spec.height));
  }
  if (spec.depth > 1 || spec.deep)
    throw Error(fmt::format("{}: has depth; save it as a flat picture", path.string()));
  if (spec.nchannels < 1) throw Error(fmt::format("{}: has no colour channels", path.string()));
}

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

PictureDecoder::PictureDecoder(const fs::path& path)
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

bool PictureDecoder::linear() const { return std::string_view(input_->format_name()) == "openexr"; }

bool PictureDecoder::readStrip(int first, int count, int channels, OIIO::TypeDesc type, void* to) {
  const OIIO::ImageSpec& spec = input_->spec();
  const int y = spec.y + first;
  return spec.tile_width > 0 ? input_->read_tiles(0, 0, spec.x, spec.x + spec.width, y, y + count, spec.z,
                                                  spec.z + 1, 0, channels, type, to)
                             : input_->read_scanlines(0, 0, y, y + count, spec.z, 0, channels, type, to);
}

void PictureDecoder::read(int channels, OIIO::TypeDesc type, const Strip& take) {
  const OIIO::ImageSpec spec = input_->spec();
  const std::size_t row = type.size() * spec.width * channels;
  // Tiles are read in whole rows of them, others as many rows as go together well.
  const int together = static_cast<int>(std::clamp<std::size_t>(kStrip / row, 1, spec.height));
  const int rows =
      spec.tile_width > 0 ? spec.tile_height : std::max(together, std::min(spec.height, kFewestRows));
  std::vector<std::byte> strip(row * std::min(rows, spec.height));
  for (int first = 0; first < spec.height; first += rows) {
    const int count = std::min(rows, spec.height - first);
    const bool whole = readStrip(first, count, channels, type, strip.data());
    if (stream_.failure())
      throw DiskError(fmt::format("{}: cannot be read", path_.string()), *stream_.failure());
    if (!whole) failReading();
    take(first, count, strip.data());
  }
}

void PictureDecoder::failReading() {
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

}  // namespace jugendstil
