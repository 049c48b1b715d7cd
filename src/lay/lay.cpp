// SPDX-License-Identifier: Apache-2.0
#include "lay/lay.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/file_name.h"
#include "base/parallel.h"
#include "image/layered_file.h"
#include "image/mask.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr int kStrip = 16;  // rows; few stay in the processor's cache
// Proportions may differ by so much: sizes are rounded to whole pixels.
constexpr double kSameShape = 0.02;

StoredPicture uprightFrom(const fs::path& file) {
  StoredPicture picture = StoredPicture::read(file);
  return picture.orientation() == 1 ? std::move(picture) : picture.upright();
}

void requireSameShape(const StoredPicture& painting, const StoredPicture& photo, const fs::path& file) {
  const double ratio = 1.0 * painting.width() * photo.height() / (1.0 * painting.height() * photo.width());
  if (std::abs(ratio - 1) > kSameShape)
    throw Error(fmt::format("{} is {}x{}, another format than the photo's {}x{}; it was not made from it",
                            file.string(), painting.width(), painting.height(), photo.width(),
                            photo.height()));
}

// Its alpha, where it has one that is not white everywhere.
std::optional<Image> transparencyOf(const StoredPicture& painting) {
  if (painting.channels() != 4) return std::nullopt;
  Image alpha(painting.width(), painting.height(), 1);
  for (int y = 0; y < painting.height(); ++y) {
    const Image row = painting.rows(y, 1);
    for (int x = 0; x < row.width; ++x) alpha.at(x, y, 0) = row.at(x, 0, 3);
  }
  const bool white = std::all_of(alpha.pixels.begin(), alpha.pixels.end(), [](float v) { return v >= 1; });
  return white ? std::nullopt : std::optional(std::move(alpha));
}

// A painting of the photo's size, and how it lies.
struct Sheet {
  StoredPicture picture;
  LayerSettings settings;
  Layer layer;
};

std::optional<Image> together(std::optional<Image> a, std::optional<Image> b, Size size) {
  if (!a || !b) return a ? std::move(a) : std::move(b);
  return bothOf(resizedMask(*a, size.width, size.height), resizedMask(*b, size.width, size.height));
}

Sheet sheetFor(const LaidPainting& painting, StoredPicture picture, const StoredPicture& photo) {
  requireSameShape(picture, photo, painting.file);
  const Size size{photo.width(), photo.height()};
  LayerSettings settings{
      painting.opacity, painting.blend,
      together(maskOf(painting.mask, size.width, size.height), transparencyOf(picture), size)};
  if (picture.width() != size.width || picture.height() != size.height) {
    const Image whole = rgbOf(picture.rows(0, picture.height()));
    picture = StoredPicture::of(resizePhoto(whole, size.width, size.height));
  }
  Layer layer(settings, size.width, size.height);
  return {std::move(picture), std::move(settings), std::move(layer)};
}

// With as many channels as the other, whose alpha it takes.
Image alphaAs(Image rows, const Image& like) {
  if (rows.channels == like.channels) {
    for (std::size_t i = 3; like.channels == 4 && i < rows.pixels.size(); i += 4)
      rows.pixels[i] = like.pixels[i];
    return rows;
  }
  Image out = like;
  for (std::size_t i = 0; i < out.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) out.pixel(i)[c] = rows.pixel(i)[c];
  }
  return out;
}

Image laidRows(const StoredPicture& photo, const std::vector<Sheet>& sheets, int begin, int count) {
  Image rows = photo.rows(begin, count);
  for (const Sheet& sheet : sheets) {
    Image above = alphaAs(sheet.picture.rows(begin, count), rows);
    sheet.layer.combine(rows, above, begin);
    rows = std::move(above);
  }
  return rows;
}

// The painting with its mask as transparency.
Image cutOut(const Sheet& sheet) {
  Image picture = rgbOf(sheet.picture.rows(0, sheet.picture.height()));
  if (!sheet.settings.mask) return picture;
  const Image mask = resizedMask(*sheet.settings.mask, picture.width, picture.height);
  Image out(picture.width, picture.height, 4);
  for (std::size_t i = 0; i < out.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) out.pixel(i)[c] = picture.pixel(i)[c];
    out.pixel(i)[3] = mask.pixels[i];
  }
  return out;
}

void writeLayers(const StoredPicture& photo, const std::vector<Sheet>& sheets,
                 const std::vector<LaidPainting>& paintings, const fs::path& target) {
  std::vector<PictureLayer> layers{{"photo", photo.rows(0, photo.height()), BlendMode::normal, 1}};
  for (std::size_t i = 0; i < sheets.size(); ++i)
    layers.push_back(
        {paintings[i].file.stem().string(), cutOut(sheets[i]), paintings[i].blend, paintings[i].opacity});
  writeOpenRaster(target, layers, laidRows(photo, sheets, 0, photo.height()), photo.depth());
}

}  // namespace

std::optional<Image> maskOf(const LaidMask& asked, int width, int height, Image own) {
  if (asked.file.empty() && asked.strokes.empty()) return std::nullopt;
  const auto read = [&](const fs::path& file) {
    return resizedMask(readMaskFor(file, width, height), width, height);
  };
  Image mask = own.empty() ? Image(width, height, 1, 1.0F) : std::move(own);
  if (!asked.file.empty()) mask = bothOf(mask, read(asked.file));
  for (const MaskStrokes& strokes : asked.strokes) {
    const Image drawn = read(strokes.file);
    const float wanted = strokes.away ? 0 : 1;
    for (std::size_t i = 0; i < mask.pixels.size(); ++i)
      mask.pixels[i] += static_cast<float>(strokes.opacity) * drawn.pixels[i] * (wanted - mask.pixels[i]);
  }
  return asked.feather > 0 ? feathered(mask, asked.feather) : mask;
}

LaidPicture layOver(const fs::path& photo, const std::vector<LaidPainting>& paintings, const fs::path& target,
                    const Encoding& encoding, const std::function<void(int, int)>& progress) {
  // Side by side: that takes longer than all the rest.
  std::vector<std::optional<StoredPicture>> read(paintings.size() + 1);
  parallelFor(read.size(),
              [&](std::size_t i) { read[i] = uprightFrom(i == 0 ? photo : paintings[i - 1].file); });
  const StoredPicture& below = *read[0];
  std::vector<Sheet> sheets;
  for (std::size_t i = 0; i < paintings.size(); ++i)
    sheets.push_back(sheetFor(paintings[i], std::move(*read[i + 1]), below));
  const int height = below.height();
  const LaidPicture made{below.width(), height};
  if (extensionOf(target) == ".ora") {
    writeLayers(below, sheets, paintings, target);
    return made;
  }
  StripWriter writer(target, below, ProfileChoice::keep, encoding);
  for (int y = 0; y < height; y += kStrip) {
    if (progress) progress(y, height);
    writer.write(laidRows(below, sheets, y, std::min(kStrip, height - y)));
  }
  writer.finish();
  return made;
}

}  // namespace jugendstil
