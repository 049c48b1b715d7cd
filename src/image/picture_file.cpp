// SPDX-License-Identifier: Apache-2.0
#include "image/picture_file.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/imageio.h>
#include <OpenImageIO/tiffutils.h>
#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/file_name.h"
#include "base/number.h"
#include "image/colour.h"
#include "image/icc.h"
#include "image/metadata_blocks.h"
#include "image/picture_input.h"
#include "image/picture_io.h"
#include "image/picture_output.h"

namespace jugendstil {

namespace {

namespace fs = std::filesystem;

OIIO::ImageSpec specFor(const Image& image, const std::string& ext, Depth depth, const Metadata* metadata,
                        const Encoding& encoding) {
  const bool jpeg = ext == ".jpg" || ext == ".jpeg";
  OIIO::ImageSpec spec(image.width, image.height, jpeg ? std::min(image.channels, 3) : image.channels,
                       storedType(ext, depth, encoding));
  if (metadata != nullptr) spec.extra_attribs = metadata->attributes;
  spec.attribute("Orientation", 1);
  spec.attribute("oiio:UnassociatedAlpha", 1);
  setCompression(spec, ext, encoding);
  leaveUndated(spec, ext);
  if (ext == ".exr") {
    spec.attribute("oiio:ColorSpace", "Linear");
  } else {
    spec.attribute("oiio:ColorSpace", "sRGB");
    if (image.channels == 1) return spec;  // a mask; the profile is one of colours
    const std::string icc = srgbProfile();
    spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, countOf(icc)), icc.data());
  }
  return spec;
}

}  // namespace

// OIIO's reorientation works on its own buffers; ours are copied in and out.
Image reoriented(const Image& image, int orientation) {
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

Picture readPicture(const fs::path& path) {
  PictureInput input(path);
  const OIIO::ImageSpec& spec = input.spec();
  Picture picture;
  picture.depth = depthOf(spec.format);
  picture.metadata = keepMetadata(spec);
  picture.image = reoriented(input.readDisplay(picture.profile), spec.get_int_attribute("Orientation", 1));
  return picture;
}

namespace {

// EXIF and XMP for a PNG, whose writer has neither.
MetadataBlocks blocksOf(const OIIO::ImageSpec& spec) {
  constexpr std::string_view kPlain[] = {"Make", "Model", "DateTime", "Artist", "Copyright"};
  bool exif = false;
  bool xmp = false;
  for (const OIIO::ParamValue& value : spec.extra_attribs) {
    const std::string name = value.name().string();
    const bool camera = name.starts_with("Exif:") || name.starts_with("GPS:");
    exif = exif || camera || std::find(std::begin(kPlain), std::end(kPlain), name) != std::end(kPlain);
    xmp = xmp || name == "Keywords" || (isOfMetadata(name) && !camera);
  }
  MetadataBlocks blocks;
  if (exif) {
    std::vector<char> bytes;
    OIIO::encode_exif(spec, bytes);
    blocks.exif.assign(bytes.begin(), bytes.end());
  }
  if (xmp) blocks.xmp = OIIO::encode_xmp(spec, true);
  if (exif || xmp) blocks.icc = iccOf(spec);  // which stays as it is
  return blocks;
}

}  // namespace

void writePicture(const fs::path& path, const Image& image, Depth depth, const Metadata* metadata,
                  const Encoding& encoding) {
  requireWritableName(path);
  requireRoom(path, image.width, image.height);
  const std::string ext = extensionOf(path);
  const OIIO::ImageSpec spec = specFor(image, ext, depth, metadata, encoding);
  const Image linear = ext == ".exr" ? toLinear(image) : Image();
  const std::vector<float>& pixels = ext == ".exr" ? linear.pixels : image.pixels;
  const auto stride = static_cast<OIIO::stride_t>(image.channels * sizeof(float));
  PictureOutput output(path, ext);
  output.open(spec);
  output.writeRows(0, image.height, OIIO::TypeDesc::FLOAT, pixels.data(), stride);
  output.close();
  if (ext == ".png" && metadata != nullptr) {
    const MetadataBlocks blocks = blocksOf(spec);
    if (!blocks.exif.empty() || !blocks.xmp.empty())
      output.change([&](const fs::path& file) { putMetadataBlocks(file, blocks); });
  }
  output.commit();
}

namespace {

std::string encodedInMemory(const Image& image, const char* format, const OIIO::ImageSpec& spec) {
  std::vector<unsigned char> bytes;
  OIIO::Filesystem::IOVecOutput memory(bytes);
  const auto output = OIIO::ImageOutput::create(format);
  const auto stride = static_cast<OIIO::stride_t>(image.channels * sizeof(float));
  bool written = output && output->set_ioproxy(&memory) &&
                 output->open(std::string("memory.") + format, withoutForeignTags(spec, format)) &&
                 output->write_image(OIIO::TypeDesc::FLOAT, image.pixels.data(), stride);
  written = output && output->close() && written;
  if (!written) throw Error(std::string("the picture could not be encoded as ") + format);
  return {bytes.begin(), bytes.end()};
}

}  // namespace

std::string encodedPng(const Image& image, Depth depth) {
  return encodedInMemory(image, "png", specFor(image, ".png", depth, nullptr, {}));
}

std::string encodedJpeg(const Image& image, int quality) {
  Encoding encoding;
  encoding.quality = quality;
  OIIO::ImageSpec spec = specFor(image, ".jpg", Depth::eight, nullptr, encoding);
  spec.erase_attribute("ICCProfile");
  return encodedInMemory(image, "jpeg", spec);
}

}  // namespace jugendstil
