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

// What does not go together with --quick. Throws UsageError where it was given.
void refuseWithQuick(const po::variables_map& given);

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

// The shipped general painter's for these references. Throws as painterFor does.
QuickPainter generalPainter(const std::vector<PaintReference>& references, const Chain& chain,
                            const PaintSettings& settings);

// The same for the inputs' references and those of each part.
Painters generalPainters(const PaintInputs& inputs, const Chain& chain, const PaintSettings& settings);

}  // namespace jugendstil::cli
