// SPDX-License-Identifier: Apache-2.0
// Pictures that stand inside other files, decoded in memory by a helper.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include "base/error.h"
#include "helper/helper.h"
#include "helper/packing.h"
#include "image/picture_file.h"
#include "image/segments.h"

namespace jugendstil {
namespace {

constexpr std::uint64_t kMostPixels = 1U << 27U;
constexpr int kMostChannels = 64;

// The work of the helper: a format, and the file's bytes.
void decodeEmbedded(Asker& asker) {
  const std::string format = asker.next();
  const std::string bytes = asker.next();
  OIIO::Filesystem::IOMemReader memory(bytes.data(), bytes.size());
  const auto input = OIIO::ImageInput::create(format);
  OIIO::ImageSpec config;
  config.attribute("oiio:UnassociatedAlpha", 1);
  OIIO::ImageSpec spec;
  if (!input || !input->set_ioproxy(&memory) || !input->open("memory." + format, spec, config)) {
    OIIO::geterror();
    throw Error("a picture inside the file cannot be read");
  }
  spec = input->spec();
  if (spec.image_pixels() > kMostPixels || spec.nchannels > kMostChannels)
    throw Error("a picture inside the file is far too large");
  Packer about;
  about.value(spec.width);
  about.value(spec.height);
  about.value(spec.nchannels);
  Image image(spec.width, spec.height, spec.nchannels);
  if (!input->read_image(0, 0, 0, image.channels, OIIO::TypeDesc::FLOAT, image.pixels.data())) {
    input->geterror();
    throw Error("a picture inside the file is damaged");
  }
  asker.answer(about.bytes());
  asker.answer({reinterpret_cast<const char*>(image.pixels.data()), image.pixels.size() * sizeof(float)});
}

Image decodedBy(std::string_view bytes, const char* format) {
  Helper helper(decodeEmbedded, "a picture inside the file");
  helper.allow(patienceFor(bytes.size()));
  helper.ask(format);
  helper.ask(bytes);
  const std::string answer = helper.answer();
  Unpacker about(answer);
  const auto width = about.value<int>();
  const auto height = about.value<int>();
  const auto channels = about.value<int>();
  const bool sane = width > 0 && height > 0 && channels > 0 && channels <= kMostChannels &&
                    cellCount(width, height) <= kMostPixels;
  if (!sane) throw Error("a picture inside the file has no size");
  Image image(width, height, channels);
  const auto to = std::as_writable_bytes(std::span(image.pixels));
  if (helper.answerPart(to) != to.size()) throw Error("a picture inside the file is damaged");
  return image;
}

}  // namespace

Image decodedJpeg(std::string_view bytes) { return rgbOf(decodedBy(bytes, "jpeg")); }

Image decodedPng(std::string_view bytes) {
  if (!isPng(bytes)) throw Error("a picture inside the file is no PNG");
  const std::string damage = damageOf(bytes);
  if (!damage.empty()) throw Error(fmt::format("a picture inside the file {}", damage));
  return decodedBy(bytes, "png");
}

}  // namespace jugendstil
