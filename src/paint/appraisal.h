// SPDX-License-Identifier: Apache-2.0
// What a painting is like, in numbers: how near it is to its photo, and how near to its references.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "image/oklab.h"
#include "paint/basis.h"
#include "paint/plan.h"
#include "style/content.h"
#include "style/measure.h"

namespace jugendstil {

struct Appraisal {
  // Against the photo; absent without one.
  std::optional<double> content;     // `structure` distance: 0 the photo's drawing, up to 2
  std::optional<double> similarity;  // structural similarity: 1 the same, about 0 unrelated
  // Against the references; absent without any.
  std::vector<double> style;  // by style band of the chain: 0 the same to 1; `gram` distance d as d / (1 + d)
  std::optional<double> colour;  // sliced distance of the colours in Oklab: 0 the same, 1 black and white
};

// Judges pictures of one photo, all brought to one size, so that their numbers can be compared.
class Appraiser {
 public:
  // The photo may be empty, and there may be no references; `size` is that of the pictures (they are judged
  // at a long edge of at most 640). Throws Error where it is too small for the network.
  Appraiser(const Chain& chain, const Image& photo, const std::vector<PaintReference>& references, Size size);
  ~Appraiser();

  // RGB or RGBA, display-encoded, of any size and the photo's format.
  Appraisal of(const Image& picture);

 private:
  Size size_;
  LevelPlan plan_;
  Image photo_;
  std::vector<Oklab> colours_;
  std::size_t contentBand_;
  std::unique_ptr<Evaluator> evaluator_;
  std::unique_ptr<Content> content_;
  std::vector<std::size_t> bands_;
  std::vector<std::unique_ptr<Measure>> measures_;
};

}  // namespace jugendstil
