// SPDX-License-Identifier: Apache-2.0
#include "paint/appraisal.h"

#include <algorithm>

#include "grade/closeness.h"
#include "grade/statistics.h"
#include "image/similarity.h"
#include "paint/canvas.h"
#include "paint/reference.h"
#include "style/make_measure.h"

namespace jugendstil {
namespace {

constexpr int kJudgedEdge = 640;
// Where `structure` looks; the same for every picture.
constexpr std::uint64_t kSeed = 1;

// Colours of all references, in numbers by share.
std::vector<Oklab> coloursOf(const std::vector<PaintReference>& references) {
  double shares = 0;
  for (const PaintReference& r : references) shares += r.share;
  std::vector<Oklab> all;
  for (const PaintReference& r : references) {
    const Size size = sizeForLongEdge(r.image.width, r.image.height,
                                      std::min(kJudgedEdge, std::max(r.image.width, r.image.height)));
    const std::vector<Oklab> own = gradeStatistics(resizePhoto(r.image, size.width, size.height)).colours;
    const auto take =
        static_cast<std::size_t>(std::max(1.0, static_cast<double>(own.size()) * r.share / shares));
    for (std::size_t i = 0; i < take; ++i) all.push_back(own[i * own.size() / take]);
  }
  return all;
}

}  // namespace

Appraiser::Appraiser(const Chain& chain, const Image& photo, const std::vector<PaintReference>& references,
                     Size size)
    : size_(
          sizeForLongEdge(size.width, size.height, std::min(kJudgedEdge, std::max(size.width, size.height)))),
      plan_(canvasFor(size_)),
      contentBand_(chain.bandIndex(chain.contentBands.front())) {
  if (!references.empty()) {
    colours_ = coloursOf(references);
    const ReferenceTargets targets =
        measureReferences(chain, references, size_, 1, MeasureKind::gram, Precision::full);
    for (const BandStatistics& target : targets.bands) {
      bands_.push_back(target.band());
      measures_.push_back(makeMeasure(target, kSeed));
    }
  }
  std::vector<std::size_t> kept = bands_;
  if (std::find(kept.begin(), kept.end(), contentBand_) == kept.end()) kept.push_back(contentBand_);
  evaluator_ =
      std::make_unique<Evaluator>(chain, plan_.canvas.width, plan_.canvas.height, Precision::full, kept);
  if (photo.empty()) return;
  photo_ = resizePhoto(rgbOf(photo), size_.width, size_.height);
  const Planes shown = forwardPicture(*evaluator_, toCanvas(photo_, plan_));
  content_ = makeContent(ContentKind::structure, *evaluator_, contentBand_, kSeed);
}

Appraiser::~Appraiser() = default;

Appraisal Appraiser::of(const Image& picture) {
  const Image judged = resizePhoto(rgbOf(picture), size_.width, size_.height);
  const Planes shown = forwardPicture(*evaluator_, toCanvas(judged, plan_));
  Appraisal out;
  if (content_) {
    out.content = content_->value(*evaluator_);
    out.similarity = structuralSimilarity(photo_, judged);
  }
  for (const auto& measure : measures_) {
    const double distance = measure->value(*evaluator_, 0);
    out.style.push_back(distance / (1 + distance));
  }
  if (!colours_.empty()) out.colour = slicedDistance(gradeStatistics(judged).colours, colours_);
  return out;
}

}  // namespace jugendstil
