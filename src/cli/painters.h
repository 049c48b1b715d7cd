// SPDX-License-Identifier: Apache-2.0
// Quick painters as a painting's recipe names them.
#pragma once

#include <memory>
#include <vector>

#include "cli/options.h"
#include "learn/paint_at_once.h"
#include "paint/recipe.h"

namespace jugendstil::cli {

// Settings of what a quick painter begins: it needs no coarse levels and fewer steps, where nothing else is
// asked for.
PaintSettings begunSettings(PaintSettings settings);

// Whether the painting is made by quick painters alone, without optimising.
bool paintsAtOnce(const PaintRecipe& recipe);

// What does not go together with painters, of a recipe on top of which this was given. Throws UsageError.
void requireSenseOfPainters(const PaintRecipe& recipe, const po::variables_map& given);

// Settings that painters have learned once and for all, or that only optimising has. Throws UsageError where
// one was given.
void refuseLearnedOrOptimising(const po::variables_map& given);

struct Painters {
  std::vector<std::unique_ptr<QuickPainter>> all;
  PainterChoice choice;  // of them
};

// Reads the recipe's painters and fills in their checksums. Throws as readQuickPainter does.
Painters readPainters(PaintRecipe& recipe, bool quiet);

}  // namespace jugendstil::cli
