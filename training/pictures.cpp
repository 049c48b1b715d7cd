// SPDX-License-Identifier: Apache-2.0
#include "pictures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>
#include <string>

#include "base/error.h"
#include "image/picture_file.h"
#include "image/resample.h"

namespace training {
namespace {

namespace fs = std::filesystem;
using jugendstil::Image;

// Words of names of what is no picture of anything.
constexpr std::array kLeftOut{"icon",   "/gui",     "/ui/",    "skin",   "font",    "alphabet", "screenshot",
                              "effect", "button",   "flag",    "normal", "gloss",   "lightmap", "/sfx",
                              "cursor", "outfit",   "symbols", "map_",   "minimap", "_nm",      "_norm",
                              "thumb",  "asteroid", "/stars",  "editor", "shadow",  "mask",     "_local"};
// Of these folders and packages the pictures are of landscapes and things.
constexpr std::array kPhotos{"images/land", "backgrounds", "tex_pics"};
constexpr float kOpaque = 0.98F;
constexpr double kLeastDeviation = 0.05;

bool namesAny(const std::string& name, const auto& words) {
  return std::any_of(words.begin(), words.end(),
                     [&](const char* word) { return name.find(word) != std::string::npos; });
}

bool isOpaque(const Image& image) {
  if (image.channels != 4) return true;
  for (std::size_t i = 0; i < image.area(); ++i) {
    if (image.pixel(i)[3] < kOpaque) return false;
  }
  return true;
}

// What two of the same picture share, in other sizes and encodings too.
std::array<int, 48> signature(const Image& image) {
  const Image small = jugendstil::resizePhoto(image, 4, 4);
  std::array<int, 48> values{};
  for (std::size_t i = 0; i < values.size(); ++i)
    values[i] = static_cast<int>(std::lround(small.pixels[i] * 24));
  return values;
}

bool isEven(const Image& image) {
  double sum = 0;
  double squares = 0;
  for (const float v : image.pixels) {
    sum += v;
    squares += double{v} * v;
  }
  const auto count = static_cast<double>(image.pixels.size());
  return squares / count - sum / count * (sum / count) < kLeastDeviation * kLeastDeviation;
}

std::vector<fs::path> filesUnder(const fs::path& folder) {
  std::vector<fs::path> files;
  for (const auto& entry : fs::recursive_directory_iterator(folder)) {
    std::string name = entry.path().string().substr(folder.string().size());
    std::transform(name.begin(), name.end(), name.begin(), [](unsigned char c) { return std::tolower(c); });
    if (entry.is_regular_file() && jugendstil::isPictureName(entry.path()) && !namesAny(name, kLeftOut))
      files.push_back(entry.path());
  }
  std::sort(files.begin(), files.end());
  return files;
}

}  // namespace

Stored::Stored(const Image& rgb) : width_(rgb.width), height_(rgb.height), values_(rgb.pixels.size()) {
  for (std::size_t i = 0; i < values_.size(); ++i)
    values_[i] = static_cast<std::uint8_t>(std::lround(std::clamp(rgb.pixels[i], 0.0F, 1.0F) * 255));
}

Image Stored::image() const {
  Image rgb(width_, height_, 3);
  for (std::size_t i = 0; i < values_.size(); ++i) rgb.pixels[i] = static_cast<float>(values_[i]) / 255;
  return rgb;
}

void Stored::exchange(jugendstil::StateExchange& with) {
  with.value(width_);
  with.value(height_);
  with.values(values_);
}

void exchangeAll(jugendstil::StateExchange& with, std::vector<Stored>& pictures) {
  std::uint64_t count = pictures.size();
  with.value(count);
  pictures.resize(count);
  for (Stored& picture : pictures) picture.exchange(with);
}

namespace {

// Empty where a file is of no use.
Image usable(const fs::path& file, int edge) {
  try {
    const Image whole = jugendstil::readPicture(file).image;
    const double longEdge = std::max(whole.width, whole.height);
    if (longEdge < 1.6 * edge || longEdge > 4 * std::min(whole.width, whole.height) || !isOpaque(whole))
      return {};
    const jugendstil::Size size = jugendstil::sizeForLongEdge(whole.width, whole.height, edge);
    Image image = jugendstil::resizePhoto(jugendstil::rgbOf(whole), size.width, size.height);
    return isEven(image) ? Image() : image;
  } catch (const jugendstil::Error&) {
    return {};  // some are damaged, or of a kind that is not read
  }
}

}  // namespace

Pictures picturesUnder(const fs::path& folder, int edge) {
  const std::vector<fs::path> files = filesUnder(folder);
  std::vector<Stored> stored(files.size());
#pragma omp parallel for schedule(dynamic)
  for (std::size_t i = 0; i < files.size(); ++i) stored[i] = Stored(usable(files[i], edge));
  Pictures pictures;
  std::set<std::array<int, 48>> seen;
  for (std::size_t i = 0; i < files.size(); ++i) {
    if (stored[i].width() == 0 || !seen.insert(signature(stored[i].image())).second) continue;
    auto& list = namesAny(files[i].string(), kPhotos) ? pictures.photos : pictures.references;
    list.push_back(std::move(stored[i]));
  }
  return pictures;
}

}  // namespace training
