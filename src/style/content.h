// SPDX-License-Identifier: Apache-2.0
// Content: how much of the photo's own drawing the picture keeps.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "network/evaluator.h"

namespace jugendstil {

enum class ContentKind {
  structure,  // self-similarity of the band (Shechtman & Irani 2007; Kolkin, Salavon & Shakhnarovich 2019)
  features,   // mean squared difference of the band (Gatys, Ecker & Bethge 2016)
};

// "structure" or "features". Throws UsageError for others.
ContentKind contentFromName(const std::string& name);
std::string nameOf(ContentKind kind);

class Content {
 public:
  virtual ~Content() = default;

  // 0 where the drawing is the photo's; for `structure` at most 2, for `features` 1 where the picture has
  // nothing of it.
  virtual double value(Evaluator& picture) = 0;

  // Adds weight times the gradient of what value() last returned, as often as it is called.
  virtual void addGradient(double weight, BandGradient& gradient) const = 0;
};

// Remembers the evaluator's last forward pass, which is of the photo. The seed places the positions at
// which `structure` compares. Weights, where there are any, say what each position of the band counts.
std::unique_ptr<Content> makeContent(ContentKind kind, Evaluator& photo, std::size_t band, std::uint64_t seed,
                                     std::vector<float> weights = {});

}  // namespace jugendstil
