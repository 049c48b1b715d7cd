// SPDX-License-Identifier: Apache-2.0
#include "grade/grade_file.h"

#include "image/mask.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Less of the rest than this share of the photo is a seam between masks, and no look can be matched to it.
constexpr double kLeastRest = 0.001;

// Masks are drawn on the upright picture; pixels stand as stored.
Image asStored(const Image& mask, int orientation) {
  if (orientation == 1) return mask;
  const int back = orientation == 6 ? 8 : orientation == 8 ? 6 : orientation;
  return reoriented(mask, back);
}

// The masks of a picture as it is stored.
struct Masks {
  std::optional<Image> whole;
  std::vector<Image> parts;

  Masks(const GradeInputs& inputs, int orientation) {
    if (inputs.mask) whole = asStored(*inputs.mask, orientation);
    for (const GradePart& part : inputs.parts) parts.push_back(asStored(part.mask, orientation));
  }

  // What counts of a part, or of what no part covers (none: everything), at that size.
  Image ofPart(std::size_t i, int width, int height) const {
    const Image part = resizedMask(parts[i], width, height);
    return whole ? bothOf(part, resizedMask(*whole, width, height)) : part;
  }
  std::optional<Image> ofRest(int width, int height) const {
    if (parts.empty()) return whole;
    Image rest = whole ? resizedMask(*whole, width, height) : Image(width, height, 1, 1.0F);
    for (const Image& part : parts) rest = withoutOf(rest, resizedMask(part, width, height));
    return rest;
  }
};

PhotoStatistics statisticsOf(const Image& reduced, const Masks& masks, const GradeInputs& inputs) {
  PhotoStatistics out;
  const auto rest = masks.ofRest(reduced.width, reduced.height);
  if (!inputs.rest.empty() && (masks.parts.empty() || coverage(*rest) > kLeastRest))
    out.rest = gradeStatistics(reduced, rest ? &*rest : nullptr);
  for (std::size_t i = 0; i < masks.parts.size(); ++i) {
    const Image mask = masks.ofPart(i, reduced.width, reduced.height);
    out.parts.push_back(gradeStatistics(reduced, &mask));
  }
  return out;
}

Look lookFor(const GradeTarget& target, const GradeStatistics& photo, const GradeSettings& settings) {
  return partOfLook(target.look ? *target.look : matchLook(photo, target.references, settings.match),
                    settings.amounts);
}

// The rest's grader, where there is one, and those of the parts.
struct Graders {
  std::optional<Grader> rest;
  std::vector<Grader> parts;

  Graders(const GradeOutcome& outcome, bool hasRest, const Image& reduced) {
    if (hasRest) rest.emplace(outcome.look, reduced);
    for (const Look& look : outcome.partLooks) parts.emplace_back(look, reduced);
  }

  std::vector<GradeLayer> layers(const Masks& masks, Size size) const {
    std::vector<GradeLayer> layers;
    if (rest) layers.push_back({&*rest, Layer({}, size.width, size.height)});
    for (std::size_t i = 0; i < parts.size(); ++i) {
      LayerSettings under;
      under.mask = masks.parts[i];
      layers.push_back({&parts[i], Layer(std::move(under), size.width, size.height)});
    }
    return layers;
  }
};

// The reduced picture before and after, and what it is measured by.
void measure(const Image& reduced, const PhotoStatistics& statistics, const Masks& masks,
             const Graders& graders, GradeOutcome& out) {
  const Size size{reduced.width, reduced.height};
  out.before = reduced;
  out.after = reduced;
  gradeRows(out.after, 0, size.height, graders.layers(masks, size), Layer({}, size.width, size.height));
  const bool rest = graders.rest || masks.parts.empty();
  const auto mask =
      rest ? masks.ofRest(size.width, size.height) : std::optional(masks.ofPart(0, size.width, size.height));
  out.statisticsBefore = rest ? statistics.rest : statistics.parts[0];
  out.statisticsAfter = gradeStatistics(out.after, mask ? &*mask : nullptr);
}

}  // namespace

GradeStatistics fileStatistics(const std::filesystem::path& path) {
  return gradeStatistics(reducedPicture(StoredPicture::read(path)));
}

PhotoStatistics photoStatistics(const std::filesystem::path& path, const GradeInputs& inputs) {
  const StoredPicture picture = StoredPicture::read(path);
  return statisticsOf(reducedPicture(picture), Masks(inputs, picture.orientation()), inputs);
}

GradeOutcome gradeFile(const std::filesystem::path& photo, const std::filesystem::path& target,
                       const GradeInputs& inputs, const RowProgress& progress) {
  StoredPicture picture = StoredPicture::read(photo);
  if (picture.orientation() != 1 && !target.empty() && !carriesOrientation(target, picture)) {
    picture = picture.upright();
  }
  const Image reduced = reducedPicture(picture);
  const Masks masks(inputs, picture.orientation());
  const PhotoStatistics statistics = statisticsOf(reduced, masks, inputs);
  GradeOutcome out;
  out.width = picture.orientation() > 4 ? picture.height() : picture.width();
  out.height = picture.orientation() > 4 ? picture.width() : picture.height();
  if (!statistics.rest.colours.empty()) out.look = lookFor(inputs.rest, statistics.rest, inputs.settings);
  for (std::size_t i = 0; i < inputs.parts.size(); ++i)
    out.partLooks.push_back(lookFor(inputs.parts[i].target, statistics.parts[i], inputs.settings));
  const Graders graders(out, !statistics.rest.colours.empty(), reduced);
  measure(reduced, statistics, masks, graders, out);
  out.before = reoriented(out.before, picture.orientation());
  out.after = reoriented(out.after, picture.orientation());
  if (target.empty()) return out;
  const GradeSettings& settings = inputs.settings;
  const Layer all({settings.opacity, settings.blend, masks.whole}, picture.width(), picture.height());
  StripWriter writer(target, picture, settings.profile, settings.encoding);
  out.profileLeftOut = writer.profileLeftOut();
  gradePicture(picture, graders.layers(masks, {picture.width(), picture.height()}), all, writer, progress);
  picture.release();
  writer.finish();
  return out;
}

}  // namespace jugendstil
