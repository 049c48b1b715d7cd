// SPDX-License-Identifier: Apache-2.0
#include "grade/grader.h"

#include <algorithm>

#include "base/parallel.h"

namespace jugendstil {
namespace {

std::optional<DetailMap> detailFor(const Look& look, const Image& reduced) {
  if (!look.changesDetail()) return std::nullopt;
  // Looked up per pixel of the reduced picture, so taken from a table.
  constexpr int kSteps = 256;
  std::vector<float> slopes;
  for (int i = 0; i <= kSteps; ++i) {
    slopes.push_back(boundedSlope(lookToneSlope(look, static_cast<float>(i) / kSteps)));
  }
  DetailChange change;
  change.gain = look.detail;
  change.toneSlope = [slopes](float tone) {
    return slopes[static_cast<std::size_t>(std::clamp(tone, 0.0F, 1.0F) * kSteps)];
  };
  return DetailMap(reduced, change);
}

}  // namespace

Grader::Grader(const Look& look, const Image& reduced)
    : table_(lookTable(look)), detail_(detailFor(look, reduced)) {}

void Grader::apply(Image& strip, int begin, int height) const {
  parallelFor(strip.height, [&](int y) {
    float* row = strip.row(y);
    if (detail_) detail_->apply(row, begin + y, strip.width, height, strip.channels);
    table_.apply(row, strip.width, strip.channels);
  });
}

void gradeRows(Image& strip, int begin, int height, const std::vector<GradeLayer>& layers, const Layer& all) {
  const bool replaced = layers.size() == 1 && layers[0].layer.plain() && all.plain();
  const Image below = replaced ? Image() : strip;
  for (const GradeLayer& one : layers) {
    if (one.layer.plain()) {  // the first, over nothing but the photo
      one.grader->apply(strip, begin, height);
      continue;
    }
    Image above = below;
    one.grader->apply(above, begin, height);
    one.layer.combine(strip, above, begin);
    strip = std::move(above);
  }
  if (!all.plain()) all.combine(below, strip, begin);
}

void gradePicture(const StoredPicture& picture, const std::vector<GradeLayer>& layers, const Layer& all,
                  StripWriter& writer, const RowProgress& progress) {
  for (int y = 0; y < picture.height(); y += kStripRows) {
    Image strip = picture.rows(y, std::min(kStripRows, picture.height() - y));
    gradeRows(strip, y, picture.height(), layers, all);
    const int done = y + strip.height;
    writer.write(std::move(strip));
    if (progress) progress(done, picture.height());
  }
}

}  // namespace jugendstil
