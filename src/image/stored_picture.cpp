// SPDX-License-Identifier: Apache-2.0
#include "image/stored_picture.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cstdint>
#include <future>
#include <system_error>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "base/number.h"
#include "base/parallel.h"
#include "helper/helper.h"
#include "image/colour.h"
#include "image/picture_input.h"
#include "image/picture_io.h"
#include "image/picture_output.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using Type = OIIO::TypeDesc;

// Where metadata blocks can stand.
constexpr std::size_t kMostFile = std::size_t{8} << 30;

MetadataBlocks blocksIn(const fs::path& path) {
  const std::string ext = extensionOf(path);
  if (ext != ".jpg" && ext != ".jpeg" && ext != ".png") return {};
  return metadataBlocksOf(readFile(path, kMostFile));
}

Type::BASETYPE keptType(const Type& stored) {
  switch (stored.basetype) {
    case Type::UINT8:
    case Type::UINT16:
    case Type::HALF:
      return static_cast<Type::BASETYPE>(stored.basetype);
    default:
      return Type::FLOAT;
  }
}

// Dithering adds a number in [-0.5, 0.5), fixed by the place: an integer hash of full avalanche. What x and
// the channel put into it is the same in all rows.
std::vector<std::uint32_t> ditherColumns(int width, int channels) {
  std::vector<std::uint32_t> columns;
  for (int x = 0; x < width; ++x) {
    for (int c = 0; c < channels; ++c)
      columns.push_back(static_cast<std::uint32_t>(x) * 0x9E3779B1U ^
                        static_cast<std::uint32_t>(c) * 0xC2B2AE3DU);
  }
  return columns;
}

JUGENDSTIL_VECTORISED void toBytes(const float* from, std::size_t n, std::uint32_t y,
                                   const std::uint32_t* columns, std::uint8_t* to) {
  const std::uint32_t row = y * 0x85EBCA77U;
  for (std::size_t i = 0; i < n; ++i) {
    std::uint32_t h = columns[i] ^ row;
    h = (h ^ (h >> 15)) * 0x2C1B3C6DU;
    h = (h ^ (h >> 12)) * 0x297A2D39U;
    h ^= h >> 15;
    const float dither = static_cast<float>(static_cast<std::int32_t>(h >> 8)) / 16777216.0F - 0.5F;
    const float v = std::min(std::max(from[i], 0.0F), 1.0F) * 255.0F + dither;
    to[i] = static_cast<std::uint8_t>(static_cast<std::int32_t>(std::min(std::max(v, 0.0F), 255.0F) + 0.5F));
  }
}

JUGENDSTIL_VECTORISED void fromBytes(const std::uint8_t* from, std::size_t n, float* to) {
  for (std::size_t i = 0; i < n; ++i) to[i] = static_cast<float>(from[i]) * (1.0F / 255);
}

JUGENDSTIL_VECTORISED void toWords(const float* from, std::size_t n, std::uint16_t* to) {
  for (std::size_t i = 0; i < n; ++i) {
    to[i] = static_cast<std::uint16_t>(std::clamp(from[i], 0.0F, 1.0F) * 65535.0F + 0.5F);
  }
}

// The work of a helper: whether a PNG can be written with this profile. The library looks profiles over more
// strictly than others, gives the picture up, and says so on the terminal.
void tryProfile(Asker& asker) {
  const std::string icc = asker.next();
  std::vector<unsigned char> file;
  OIIO::Filesystem::IOVecOutput memory(file);
  const auto png = OIIO::ImageOutput::create("png");
  OIIO::ImageSpec one(1, 1, 3, Type::UINT8);
  one.attribute("ICCProfile", Type(Type::UINT8, countOf(icc)), icc.data());
  const std::array<unsigned char, 3> pixel{};
  const bool opened = png && png->set_ioproxy(&memory) && png->open("memory.png", one);
  const bool taken = opened && png->write_scanline(0, 0, Type::UINT8, pixel.data()) && png->close();
  if (png) png->geterror();
  asker.answer(taken ? "yes" : "no");
}

bool pngTakes(const std::string& icc) {
  return answerOfHelper(tryProfile, "its colour profile", icc) == "yes";
}

}  // namespace

StoredPicture StoredPicture::read(const fs::path& path) {
  PictureInput input(path);
  const OIIO::ImageSpec& spec = input.spec();
  StoredPicture p;
  p.width_ = spec.width;
  p.height_ = spec.height;
  p.stored_ = std::min(spec.nchannels, 4);
  p.depth_ = depthOf(spec.format);
  p.linear_ = input.linear();
  p.orientation_ = std::clamp(spec.get_int_attribute("Orientation", 1), 1, 8);
  const Type type(keptType(spec.format));
  p.type_ = static_cast<int>(type.basetype);
  p.bytes_ = input.read(p.stored_, type);
  p.icc_ = iccOf(spec);
  p.profile_ = std::make_shared<const ProfilePair>(p.stored_ > 2 ? p.icc_ : std::string(), path.string());
  p.metadata_ = keepMetadata(spec);
  p.blocks_ = blocksIn(path);
  for (int y = 0; p.depth_ == Depth::floating && y < p.height_; ++y) requireNumbers(p.rows(y, 1), y, path);
  return p;
}

StoredPicture StoredPicture::of(const Image& image) {
  StoredPicture p;
  p.width_ = image.width;
  p.height_ = image.height;
  p.stored_ = image.channels;
  p.depth_ = Depth::floating;
  p.type_ = static_cast<int>(Type::FLOAT);
  const auto* begin = reinterpret_cast<const std::byte*>(image.pixels.data());
  p.bytes_.assign(begin, begin + image.pixels.size() * sizeof(float));
  p.profile_ = std::make_shared<const ProfilePair>(std::string_view(), std::string());
  return p;
}

StoredPicture StoredPicture::upright() const {
  StoredPicture p = of(reoriented(rows(0, height_), orientation_));
  p.depth_ = depth_;
  p.metadata_ = metadata_;
  return p;
}

bool carriesOrientation(const fs::path& path, const StoredPicture& picture) {
  const std::string ext = extensionOf(path);
  return ext == ".webp" ? false : ext == ".png" ? !picture.blocks().exif.empty() : true;
}

StoredPicture StoredPicture::like(int width, int height, Depth depth) {
  StoredPicture p;
  p.width_ = width;
  p.height_ = height;
  p.depth_ = depth;
  return p;
}

void StoredPicture::fillRow(int y, float* to) const {
  const Type type(static_cast<Type::BASETYPE>(type_));
  const std::size_t n = std::size_t{1} * width_ * stored_;
  const std::byte* from = &bytes_[y * n * type.basesize()];
  if (type == Type::UINT8) {
    fromBytes(reinterpret_cast<const std::uint8_t*>(from), n, to);
  } else {
    OIIO::convert_pixel_values(type, from, Type::FLOAT, to, static_cast<int>(n));
  }
  if (!linear_) return;
  const int colours = stored_ < 3 ? 1 : 3;
  for (std::size_t i = 0; i < n; i += stored_) {
    for (int c = 0; c < colours; ++c) to[i + c] = linearToSrgb(to[i + c]);
  }
}

Image StoredPicture::rows(int begin, int count) const {
  Image out(width_, count, channels());
  parallelFor(count, [&](int k) {
    float* to = out.row(k);
    const std::size_t width = width_;
    if (stored_ == 3 || stored_ == 4) {
      fillRow(begin + k, to);
    } else {
      std::vector<float> grey(width * stored_);
      fillRow(begin + k, grey.data());
      for (std::size_t x = 0; x < width; ++x) {
        for (std::size_t c = 0; c < 3; ++c) to[x * out.channels + c] = grey[x * stored_];
        if (stored_ == 2) to[x * 4 + 3] = grey[x * 2 + 1];
      }
    }
  });
  profile_->toSrgb(out);
  return out;
}

struct StripWriter::Impl {
  Impl(const fs::path& target, const StoredPicture& like, ProfileChoice choice, const Encoding& encoding)
      : ext((requireWritableName(target), requireRoom(target, like.width(), like.height()),
             extensionOf(target))),
        output(target, ext) {
    const bool jpeg = ext == ".jpg" || ext == ".jpeg";
    linear = ext == ".exr";
    outChannels = jpeg ? 3 : like.channels();
    spec = OIIO::ImageSpec(like.width(), like.height(), outChannels, storedType(ext, like.depth(), encoding));
    if (like.metadata()) spec.extra_attribs = like.metadata()->attributes;
    spec.attribute("Orientation", like.orientation());
    spec.attribute("oiio:UnassociatedAlpha", 1);
    setCompression(spec, ext, encoding);
    leaveUndated(spec, ext);
    // A grey profile says nothing about the RGB that is written; an EXR has none.
    bool keeps = choice == ProfileChoice::keep && !like.icc().empty() && !linear && rgbProfile(like.icc());
    if (keeps) profile = std::make_shared<const ProfilePair>(like.icc(), "its colour profile");
    leftOut = keeps && !(profile->sound() && (ext != ".png" || pngTakes(like.icc())));
    if (leftOut) profile.reset();
    keeps = keeps && !leftOut;
    icc = linear ? std::string() : keeps ? like.icc() : srgbProfile();
    spec.attribute("oiio:ColorSpace", linear ? "Linear" : "sRGB");
    if (!icc.empty()) {
      spec.attribute("ICCProfile", Type(Type::UINT8, countOf(icc)), icc.data());
    }
    blocks = like.blocks();
    blocks.icc = icc;
    output.open(spec);
  }

  static bool rgbProfile(const std::string& bytes) {
    return bytes.size() > 20 && bytes.compare(16, 4, "RGB ") == 0;
  }

  // In the file's space and channels.
  void prepare(Image& strip) const {
    const bool drop = outChannels < strip.channels;
    if (profile) profile->fromSrgb(strip);
    if (!drop && !linear) return;
    Image out = drop ? Image(strip.width, strip.height, 3) : Image();
    parallelFor(strip.height, [&](int y) {
      float* row = strip.row(y);
      for (int x = 0; x < strip.width; ++x) {
        float* pixel = row + std::size_t{1} * x * strip.channels;
        if (linear) {
          for (int c = 0; c < 3; ++c) pixel[c] = srgbToLinear(pixel[c]);
        }
        if (drop) std::copy(pixel, pixel + 3, &out.pixels[out.index(x, y, 0)]);
      }
    });
    if (drop) strip = std::move(out);
  }

  template <typename T, typename Quantise>
  void writeAs(const Image& strip, Type type, const Quantise& quantise) {
    std::vector<T> values(strip.pixels.size());
    const std::size_t perRow = strip.rowLength();
    parallelFor(strip.height, [&](int y) {
      const auto at = y * perRow;
      quantise(&strip.pixels[at], perRow, next + y, &values[at]);
    });
    encode(strip.height, type, std::move(values));
  }

  // Beside the work on the next strip: encoders take one thread.
  template <typename T>
  void encode(int height, const Type& type, std::vector<T> values) {
    if (pending.valid()) pending.get();
    const auto rows = [this, first = next, height, type,
                       own = std::make_shared<const std::vector<T>>(std::move(values))] {
      output.writeRows(first, first + height, type, own->data());
    };
    try {
      pending = std::async(std::launch::async, rows);
    } catch (const std::system_error&) {  // no thread to be had
      rows();
    }
  }

  void write(Image strip) {
    prepare(strip);
    if (spec.format == Type::UINT8) {
      if (columns.size() != strip.rowLength()) columns = ditherColumns(strip.width, strip.channels);
      writeAs<std::uint8_t>(strip, Type::UINT8,
                            [&](const float* from, std::size_t n, std::uint32_t y, std::uint8_t* to) {
                              toBytes(from, n, y, columns.data(), to);
                            });
    } else if (spec.format == Type::UINT16) {
      writeAs<std::uint16_t>(
          strip, Type::UINT16,
          [](const float* from, std::size_t n, std::uint32_t, std::uint16_t* to) { toWords(from, n, to); });
    } else {
      encode(strip.height, Type::FLOAT, std::move(strip.pixels));
    }
    next += strip.height;
  }

  void finish() {
    if (pending.valid()) pending.get();
    output.close();
    const bool splices = ext == ".jpg" || ext == ".jpeg" || ext == ".png";
    const bool own = !blocks.exif.empty() || !blocks.xmp.empty();
    if (splices && own) output.change([&](const fs::path& file) { putMetadataBlocks(file, blocks); });
    output.commit();
  }

  std::string ext;
  PictureOutput output;
  bool linear = false;
  bool leftOut = false;  // the profile
  int outChannels = 3;
  int next = 0;
  std::vector<std::uint32_t> columns;  // of dithering
  OIIO::ImageSpec spec;
  std::string icc;
  std::shared_ptr<const ProfilePair> profile;
  MetadataBlocks blocks;
  std::future<void> pending;  // the strip before is encoded; last, so that it is waited for first
};

StripWriter::StripWriter(const fs::path& path, const StoredPicture& like, ProfileChoice profile,
                         const Encoding& encoding)
    : impl_(std::make_unique<Impl>(path, like, profile, encoding)) {}
StripWriter::~StripWriter() = default;
bool StripWriter::profileLeftOut() const { return impl_->leftOut; }
void StripWriter::write(Image strip) { impl_->write(std::move(strip)); }
void StripWriter::finish() { impl_->finish(); }

}  // namespace jugendstil
