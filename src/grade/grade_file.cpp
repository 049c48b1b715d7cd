// SPDX-License-Identifier: Apache-2.0
#include "grade/grade_file.h"

namespace jugendstil {
namespace {

// Masks are drawn on the upright picture; pixels stand as stored.
std::optional<Image> maskAsStored(const std::optional<Image>& mask, int orientation) {
  if (!mask || orientation == 1) return mask;
  const int back = orientation == 6 ? 8 : orientation == 8 ? 6 : orientation;
  return reoriented(*mask, back);
}

}  // namespace

GradeStatistics fileStatistics(const std::filesystem::path& path, const std::optional<Image>& mask) {
  const StoredPicture picture = StoredPicture::read(path);
  const auto stored = maskAsStored(mask, picture.orientation());
  return gradeStatistics(reducedPicture(picture), stored ? &*stored : nullptr);
}

GradeOutcome gradeFile(const std::filesystem::path& photo, const std::filesystem::path& target,
                       const GradeInputs& inputs, const RowProgress& progress) {
  StoredPicture picture = StoredPicture::read(photo);
  if (picture.orientation() != 1 && !target.empty() && !carriesOrientation(target, picture)) {
    picture = picture.upright();
  }
  const Image reduced = reducedPicture(picture);
  LayerSettings layerSettings = inputs.layer;
  layerSettings.mask = maskAsStored(inputs.layer.mask, picture.orientation());
  const Image* mask = layerSettings.mask ? &*layerSettings.mask : nullptr;
  GradeOutcome out;
  out.width = picture.orientation() > 4 ? picture.height() : picture.width();
  out.height = picture.orientation() > 4 ? picture.width() : picture.height();
  out.statisticsBefore = gradeStatistics(reduced, mask);
  out.look = partOfLook(
      inputs.look ? *inputs.look : matchLook(out.statisticsBefore, inputs.references, inputs.match),
      inputs.amounts);
  const Grader grader(out.look, reduced);
  Image after = reduced;
  grader.apply(after, 0, after.height);
  out.statisticsAfter = gradeStatistics(after, mask);
  out.before = reoriented(reduced, picture.orientation());
  out.after = reoriented(after, picture.orientation());
  if (target.empty()) return out;
  const Layer layer(std::move(layerSettings), picture.width(), picture.height());
  StripWriter writer(target, picture, inputs.profile, inputs.encoding);
  gradePicture(picture, grader, layer, writer, progress);
  picture.release();
  writer.finish();
  return out;
}

}  // namespace jugendstil
