// SPDX-License-Identifier: Apache-2.0
#include "image/icc.h"

#include <lcms2.h>

#include <array>
#include <cmath>
#include <memory>

#include "base/parallel.h"

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

bool convertToSrgb(Image& image, std::string_view icc) {
  const Profile from = openProfile(icc);
  if (!from) return false;
  const bool grey = image.channels == 1;
  const auto wanted = grey ? cmsSigGrayData : cmsSigRgbData;
  if (cmsGetColorSpace(from.get()) != wanted) return false;
  const Profile to(cmsCreate_sRGBProfile());
  const auto extra = static_cast<cmsUInt32Number>(image.channels == 4 ? 1 : 0);
  const cmsUInt32Number rgb =
      FLOAT_SH(1) | COLORSPACE_SH(PT_RGB) | CHANNELS_SH(3) | EXTRA_SH(extra) | BYTES_SH(4);
  const cmsUInt32Number in = grey ? TYPE_GRAY_FLT : rgb;
  Image out = grey ? Image(image.width, image.height, 3) : image;
  const Transform transform(cmsCreateTransform(from.get(), in, to.get(), grey ? TYPE_RGB_FLT : rgb,
                                               INTENT_PERCEPTUAL,
                                               cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION));
  if (!transform) return false;
  parallelFor(image.height, [&](int y) {
    cmsDoTransform(transform.get(), image.row(y), out.row(y), static_cast<cmsUInt32Number>(image.width));
  });
  image = std::move(out);
  return true;
}

namespace {

// A look along the cube: a profile that moves nothing by a 16-bit step or two is sRGB by another name.
bool isSrgb(cmsHTRANSFORM toSrgb) {
  constexpr int kSide = 6;
  constexpr float kSame = 0.0015F;
  for (int i = 0; i < kSide * kSide * kSide; ++i) {
    const int layer = i / (kSide * kSide);
    const std::array<float, 3> in{static_cast<float>(i % kSide) / (kSide - 1),
                                  static_cast<float>(i / kSide % kSide) / (kSide - 1),
                                  static_cast<float>(layer) / (kSide - 1)};
    std::array<float, 3> out{};
    cmsDoTransform(toSrgb, in.data(), out.data(), 1);
    for (std::size_t c = 0; c < 3; ++c) {
      if (std::fabs(out[c] - in[c]) > kSame) return false;
    }
  }
  return true;
}

}  // namespace

ProfilePair::ProfilePair(std::string_view icc) {
  if (icc.empty()) return;
  const Profile own = openProfile(icc);
  if (!own || cmsGetColorSpace(own.get()) != cmsSigRgbData) return;
  const Profile srgb(cmsCreate_sRGBProfile());
  constexpr cmsUInt32Number kFlags = cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION;
  const auto pair = [&](const Profile& from, const Profile& to) {
    return std::shared_ptr<void>(cmsCreateTransform(from.get(), TYPE_RGB_FLT, to.get(), TYPE_RGB_FLT,
                                                    INTENT_RELATIVE_COLORIMETRIC, kFlags),
                                 [](void* t) {
                                   if (t != nullptr) cmsDeleteTransform(t);
                                 });
  };
  auto to = pair(own, srgb);
  auto from = pair(srgb, own);
  if (!to || !from || isSrgb(to.get())) return;
  toSrgb_ = std::move(to);
  fromSrgb_ = std::move(from);
}

void ProfilePair::toSrgb(float* rgb, int count) const {
  if (toSrgb_) cmsDoTransform(toSrgb_.get(), rgb, rgb, static_cast<cmsUInt32Number>(count));
}

void ProfilePair::fromSrgb(float* rgb, int count) const {
  if (fromSrgb_) cmsDoTransform(fromSrgb_.get(), rgb, rgb, static_cast<cmsUInt32Number>(count));
}

}  // namespace jugendstil
