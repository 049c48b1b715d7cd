// SPDX-License-Identifier: Apache-2.0
#include "image/icc.h"

#include <lcms2.h>

#include <array>
#include <cmath>
#include <memory>
#include <mutex>
#include <span>
#include <vector>

#include "base/error.h"
#include "base/parallel.h"
#include "helper/helper.h"
#include "helper/packing.h"

namespace jugendstil {
namespace {

struct CloseProfile {
  void operator()(void* p) const { cmsCloseProfile(p); }
};
struct DeleteTransform {
  void operator()(void* t) const { cmsDeleteTransform(t); }
};
using Profile = std::unique_ptr<void, CloseProfile>;
using Transform = std::unique_ptr<void, DeleteTransform>;

Profile openProfile(std::string_view icc) {
  return Profile(cmsOpenProfileFromMem(icc.data(), static_cast<cmsUInt32Number>(icc.size())));
}

cmsUInt32Number rgbFloats(int channels) {
  return FLOAT_SH(1) | COLORSPACE_SH(PT_RGB) | CHANNELS_SH(3) |
         EXTRA_SH(static_cast<cmsUInt32Number>(channels == 4 ? 1 : 0)) | BYTES_SH(4);
}

}  // namespace

std::string srgbProfile() {
  const Profile profile(cmsCreate_sRGBProfile());
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile.get(), nullptr, &size);
  std::string bytes(size, '\0');
  cmsSaveProfileToMem(profile.get(), bytes.data(), &size);
  // Bytes 24-35 hold the time of making, 84-99 a digest over it: both optional, and a file must not
  // change with the clock.
  bytes.replace(24, 12, 12, '\0');
  bytes.replace(84, 16, 16, '\0');
  return bytes;
}

std::string profileName(std::string_view icc) {
  const Profile profile = openProfile(icc);
  if (!profile) return "unreadable profile";
  char name[128] = "";
  cmsGetProfileInfoASCII(profile.get(), cmsInfoDescription, "en", "US", name, sizeof name);
  return name;
}

SrgbConversion::SrgbConversion(std::string_view icc, int channels) {
  const Profile from = icc.empty() ? Profile() : openProfile(icc);
  if (!from) return;
  const bool grey = channels == 1;
  const auto wanted = grey ? cmsSigGrayData : cmsSigRgbData;
  if (cmsGetColorSpace(from.get()) != wanted) return;
  const Profile to(cmsCreate_sRGBProfile());
  const cmsUInt32Number in = grey ? TYPE_GRAY_FLT : rgbFloats(channels);
  Transform transform(cmsCreateTransform(from.get(), in, to.get(), rgbFloats(grey ? 3 : channels),
                                         INTENT_PERCEPTUAL,
                                         cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION));
  if (transform) transform_ = std::shared_ptr<void>(std::move(transform));
}

void SrgbConversion::apply(Image& image) const {
  if (!transform_) return;
  Image out = image.channels == 1 ? Image(image.width, image.height, 3) : image;
  parallelFor(image.height, [&](int y) {
    cmsDoTransform(transform_.get(), image.row(y), out.row(y), static_cast<cmsUInt32Number>(image.width));
  });
  image = std::move(out);
}

namespace {

constexpr int kCube = 6;

// A look along the cube: a profile that moves nothing by a 16-bit step or two is sRGB by another name.
bool isSrgb(cmsHTRANSFORM toSrgb) {
  constexpr float kSame = 0.0015F;
  for (int i = 0; i < kCube * kCube * kCube; ++i) {
    const int layer = i / (kCube * kCube);
    const std::array<float, 3> in{static_cast<float>(i % kCube) / (kCube - 1),
                                  static_cast<float>(i / kCube % kCube) / (kCube - 1),
                                  static_cast<float>(layer) / (kCube - 1)};
    std::array<float, 3> out{};
    cmsDoTransform(toSrgb, in.data(), out.data(), 1);
    for (std::size_t c = 0; c < 3; ++c) {
      if (std::fabs(out[c] - in[c]) > kSame) return false;
    }
  }
  return true;
}

// The helper's side of a pair.
class BothWays {
 public:
  explicit BothWays(std::string_view icc) {
    const Profile own = openProfile(icc);
    if (!own || cmsGetColorSpace(own.get()) != cmsSigRgbData) return;
    const Profile srgb(cmsCreate_sRGBProfile());
    for (const int channels : {3, 4}) {
      to_.push_back(made(own, srgb, channels));
      from_.push_back(made(srgb, own, channels));
    }
    sound_ = to_.front() && from_.front() && to_.back() && from_.back();
  }

  bool sound() const { return sound_; }
  bool plain() const { return !sound_ || isSrgb(to_.front().get()); }

  void convert(bool toSrgb, int channels, int width, std::span<float> pixels) const {
    const Transform& transform = (toSrgb ? to_ : from_).at(channels - 3);
    const std::size_t row = std::size_t{1} * channels * width;
    parallelFor(pixels.size() / row, [&](std::size_t y) {
      float* values = &pixels[y * row];
      cmsDoTransform(transform.get(), values, values, static_cast<cmsUInt32Number>(width));
    });
  }

 private:
  static Transform made(const Profile& from, const Profile& to, int channels) {
    return Transform(cmsCreateTransform(from.get(), rgbFloats(channels), to.get(), rgbFloats(channels),
                                        INTENT_RELATIVE_COLORIMETRIC,
                                        cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION));
  }

  std::vector<Transform> to_;  // of three channels, and of four
  std::vector<Transform> from_;
  bool sound_ = false;
};

struct Rows {
  bool toSrgb = true;
  int channels = 3;
  int width = 1;
};

// The work of the helper: the profile, then what rows are to become and the rows, again and again.
void convertRows(Asker& asker) {
  const BothWays profile(asker.next());
  Packer about;
  about.value(profile.sound());
  about.value(profile.plain());
  asker.answer(about.bytes());
  for (;;) {
    const std::string question = asker.next();
    const auto rows = Unpacker(question).value<Rows>();
    std::string pixels = asker.next();
    profile.convert(rows.toSrgb, rows.channels, rows.width,
                    {reinterpret_cast<float*>(pixels.data()), pixels.size() / sizeof(float)});
    asker.answer(pixels);
  }
}

}  // namespace

struct ProfilePair::Converter {
  explicit Converter(const std::string& about) : helper(convertRows, about) {}

  void convert(Image& rows, bool toSrgb) {
    const std::lock_guard<std::mutex> alone(one);
    Packer question;
    question.value(Rows{toSrgb, rows.channels, rows.width});
    helper.ask(question.bytes());
    const auto bytes = std::as_writable_bytes(std::span(rows.pixels));
    helper.ask({reinterpret_cast<const char*>(bytes.data()), bytes.size()});
    if (helper.answerPart(bytes) != bytes.size()) throw Error("rows came back from their profile cut short");
  }

  std::mutex one;
  Helper helper;
};

ProfilePair::ProfilePair(std::string_view icc, const std::string& about) {
  sound_ = !icc.empty() && icc == srgbProfile();
  if (icc.empty() || sound_) return;
  auto converter = std::make_unique<Converter>(about);
  converter->helper.ask(icc);
  const std::string answer = converter->helper.answer();
  Unpacker said(answer);
  sound_ = said.value<bool>();
  if (!said.value<bool>()) converter_ = std::move(converter);
}

ProfilePair::~ProfilePair() = default;

void ProfilePair::toSrgb(Image& rows) const {
  if (converter_) converter_->convert(rows, true);
}

void ProfilePair::fromSrgb(Image& rows) const {
  if (converter_) converter_->convert(rows, false);
}

}  // namespace jugendstil
