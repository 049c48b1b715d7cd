// SPDX-License-Identifier: Apache-2.0
#include "paint/first_state.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "base/error.h"
#include "base/number.h"
#include "grade/recolour.h"

namespace jugendstil {
namespace {

// The largest middle part of the given aspect ratio: a picture of another format is cut, never stretched.
Image croppedToAspect(const Image& image, Size aspect) {
  const double ratio = 1.0 * aspect.width / aspect.height;
  const int w = std::clamp(rounded(image.height * ratio), 1, image.width);
  const int h = std::clamp(rounded(image.width / ratio), 1, image.height);
  return crop(image, (image.width - w) / 2, (image.height - h) / 2, w, h);
}

const PaintReference& firstReference(const PaintInputs& inputs) {
  return inputs.references.empty() ? inputs.parts.front().references.front() : inputs.references.front();
}

// Grains of this size in pixels, and this part of the references' spread: chroma is moved too little at the
// finest levels for coloured grains of one pixel to be painted away again.
constexpr int kGrain = 4;
constexpr double kPart = 0.5;

Image noiseLike(const Image& reference, Size size, bool grey, std::uint64_t seed) {
  const ColourStatistics colours = colourStatistics(reference);
  std::array<double, 3> spread{};
  double mean = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    spread[c] = kPart * std::sqrt(colours.covariance[c][c]);
    mean += spread[c] / 3;
  }
  std::mt19937_64 random(seed);
  std::normal_distribution<double> normal;
  Image out(std::max(1, size.width / kGrain), std::max(1, size.height / kGrain), 3);
  for (std::size_t i = 0; i < out.area(); ++i) {
    double drawn = normal(random);
    for (std::size_t c = 0; c < 3; ++c) {
      if (!grey && c > 0) drawn = normal(random);
      out.pixels[i * 3 + c] = static_cast<float>(colours.mean[c] + (grey ? mean : spread[c]) * drawn);
    }
  }
  return clipped(resample(out, size.width, size.height));
}

}  // namespace

bool startIsWord(std::string_view start) {
  return start == "photo" || start == "quick" || start == "reference" || start == "noise" ||
         start == "grey-noise";
}

Image firstState(const PaintInputs& inputs, const Image& drawing, const PaintSettings& settings, Size noise,
                 Size format) {
  if (settings.start == "photo") return drawing;
  if (settings.start == "reference") return croppedToAspect(rgbOf(firstReference(inputs).image), format);
  if (settings.start == "noise" || settings.start == "grey-noise")
    return noiseLike(rgbOf(firstReference(inputs).image), noise, settings.start == "grey-noise",
                     settings.seed);
  if (inputs.start.empty()) throw Error("the picture to start from is missing");
  return croppedToAspect(rgbOf(inputs.start), format);
}

}  // namespace jugendstil
