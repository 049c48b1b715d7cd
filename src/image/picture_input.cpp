// SPDX-License-Identifier: Apache-2.0
#include "image/picture_input.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "helper/lockdown.h"
#include "helper/packing.h"
#include "image/colour.h"
#include "image/icc.h"
#include "image/packed_spec.h"
#include "image/picture_decoder.h"
#include "image/picture_io.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// What is asked of the helper, after the file's name.
enum class Question : char { rows, display, through };

constexpr double kPixelsPerSecond = 3e6;
constexpr double kMegabyte = 1e6;

void answerRows(Asker& asker, PictureDecoder& decoder, int channels, OIIO::TypeDesc type) {
  const std::size_t row = type.size() * decoder.spec().width * channels;
  decoder.read(channels, type, [&](int, int count, const std::byte* rows) {
    asker.answer({reinterpret_cast<const char*>(rows), row * count});
  });
}

Image toColour(Image image) {
  if (image.channels == 3 || image.channels == 4) return image;
  const bool alpha = image.channels == 2;
  Image out(image.width, image.height, alpha ? 4 : 3);
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) {
      out.pixels[i * out.channels + c] = image.pixels[i * image.channels];
    }
    if (alpha) out.pixels[i * 4 + 3] = image.pixels[i * 2 + 1];
  }
  return out;
}

int storedChannels(const OIIO::ImageSpec& spec) { return std::min(spec.nchannels, 4); }
int displayChannels(const OIIO::ImageSpec& spec) { return storedChannels(spec) % 2 == 0 ? 4 : 3; }

// Values of these types are numbers all of them, and a quarter or half as long on the way as floats.
bool isWhole(const OIIO::TypeDesc& type) {
  return type == OIIO::TypeDesc::UINT8 || type == OIIO::TypeDesc::UINT16;
}

void answerDisplay(Asker& asker, PictureDecoder& decoder, const fs::path& path) {
  const OIIO::ImageSpec spec = decoder.spec();
  const int channels = storedChannels(spec);
  const std::string icc = iccOf(spec);
  // Grey with alpha is colours to the profile.
  const SrgbConversion conversion(icc == srgbProfile() ? std::string() : icc,
                                  channels == 1 ? 1 : displayChannels(spec));
  const bool linear = icc.empty() && decoder.linear();
  const bool asStored = isWhole(spec.format) && !linear && !conversion.converts();
  Packer about;
  about.text(icc.empty() ? std::string() : profileName(icc));
  about.value(asStored);
  asker.answer(about.bytes());
  if (asStored) {
    answerRows(asker, decoder, channels, spec.format);
    return;
  }
  decoder.read(channels, OIIO::TypeDesc::FLOAT, [&](int first, int count, const std::byte* rows) {
    const auto* values = reinterpret_cast<const float*>(rows);
    Image strip;
    strip.width = spec.width;
    strip.height = count;
    strip.channels = channels;
    strip.pixels.assign(values, values + strip.area() * channels);
    requireNumbers(strip, first, path);
    if (channels != 1) strip = toColour(std::move(strip));
    if (linear)
      strip = toDisplay(strip);
    else
      conversion.apply(strip);
    strip = toColour(std::move(strip));
    asker.answer({reinterpret_cast<const char*>(strip.pixels.data()), strip.pixels.size() * sizeof(float)});
  });
}

// The work of the helper.
void decodePicture(Asker& asker) {
  const fs::path path = asker.next();
  PictureDecoder decoder(path);
  Packer about;
  about.value(decoder.linear());
  pack(about, decoder.spec());
  asker.answer(about.bytes());
  for (;;) {
    const std::string question = asker.next();
    Unpacker asked(question);
    switch (asked.value<Question>()) {
      case Question::rows: {
        const auto channels = asked.value<int>();
        answerRows(asker, decoder, channels, OIIO::TypeDesc(asked.value<OIIO::TypeDesc::BASETYPE>()));
        break;
      }
      case Question::display:
        answerDisplay(asker, decoder, path);
        break;
      case Question::through:
        decoder.read(decoder.spec().nchannels, decoder.spec().format, [](int, int, const std::byte*) {});
        asker.answer({});
        break;
    }
  }
}

}  // namespace

PictureInput::PictureInput(const fs::path& path) : path_(path), helper_(decodePicture, path.string()) {
  std::error_code code;
  const auto size = fs::file_size(path, code);
  helper_.allow(patienceFor(code ? 0 : size));
  helper_.ask(path.string());
  const std::string answer = helper_.answer();
  Unpacker about(answer);
  linear_ = about.value<bool>();
  spec_ = unpackedSpec(about);
  const double pixels = 1.0 * spec_.width * spec_.height;
  helper_.allow(patienceFor(code ? 0 : size) + pixels / kPixelsPerSecond);
}

void PictureInput::requireMemory(std::size_t bytesPerPixel) {
  const double needed = 1.0 * spec_.width * spec_.height * static_cast<double>(bytesPerPixel);
  const auto free = static_cast<double>(freeMemory());
  if (needed <= free) return;
  throw Error(
      fmt::format("{}: its {}x{} pixels take {:.0f} MB of memory and {:.0f} MB are free; reduce it first, "
                  "or close other programs",
                  path_.string(), spec_.width, spec_.height, needed / kMegabyte, free / kMegabyte));
}

// Room is made strip by strip: to touch all of it first takes as long as decoding, and the helper would wait.
void PictureInput::eachPart(std::size_t bytes, const std::function<void(std::string_view)>& take) {
  for (std::size_t got = 0; got < bytes;) {
    const std::string part = helper_.answer();
    if (part.empty() || part.size() > bytes - got) failShort();
    take(part);
    got += part.size();
  }
}

void PictureInput::failShort() const {
  throw Error(fmt::format("{}: ends before its last row", path_.string()));
}

std::vector<std::byte> PictureInput::read(int channels, OIIO::TypeDesc type) {
  requireMemory(type.size() * channels);
  Packer question;
  question.value(Question::rows);
  question.value(channels);
  question.value(static_cast<OIIO::TypeDesc::BASETYPE>(type.basetype));
  helper_.ask(question.bytes());
  const std::size_t all = cellCount(spec_.width, spec_.height) * channels * type.size();
  std::vector<std::byte> bytes;
  bytes.reserve(all);
  eachPart(all, [&](std::string_view part) {
    const auto* begin = reinterpret_cast<const std::byte*>(part.data());
    bytes.insert(bytes.end(), begin, begin + part.size());
  });
  return bytes;
}

Image PictureInput::readDisplay(std::string& profile) {
  const int channels = displayChannels(spec_);
  requireMemory(sizeof(float) * channels);
  Packer question;
  question.value(Question::display);
  helper_.ask(question.bytes());
  const std::string answer = helper_.answer();
  Unpacker about(answer);
  profile = about.text();
  const bool asStored = about.value<bool>();
  const OIIO::TypeDesc type = asStored ? spec_.format : OIIO::TypeDesc(OIIO::TypeDesc::FLOAT);
  Image image;
  image.width = spec_.width;
  image.height = spec_.height;
  image.channels = asStored ? storedChannels(spec_) : channels;
  const std::size_t values = image.area() * image.channels;
  image.pixels.reserve(values);
  eachPart(values * type.size(), [&](std::string_view part) {
    const std::size_t at = image.pixels.size();
    const std::size_t count = part.size() / type.size();
    image.pixels.resize(at + count);
    OIIO::convert_pixel_values(type, part.data(), OIIO::TypeDesc::FLOAT, &image.pixels[at],
                               static_cast<int>(count));
  });
  if (image.pixels.size() != values) failShort();
  return toColour(std::move(image));
}

void PictureInput::readThrough() {
  Packer question;
  question.value(Question::through);
  helper_.ask(question.bytes());
  helper_.answer();
}

}  // namespace jugendstil
