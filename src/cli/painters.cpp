// SPDX-License-Identifier: Apache-2.0
#include "cli/painters.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/file_name.h"
#include "cli/recipe_options.h"

namespace jugendstil::cli {
namespace {

bool isPainter(const RecipeInput& input) { return extensionOf(input.path) == ".onnx"; }

// Of settings that only optimising has.
constexpr const char* kOfOptimising[] = {"start", "solver", "steps", "levels", "snapshots"};

void refuseOptimising(const po::variables_map& given) {
  for (const char* name : kOfOptimising) {
    if (given.count(name) != 0)
      throw UsageError(
          fmt::format("--{} goes with --after REF: a painter paints at once, without steps", name));
  }
}

void refuseLearned(const po::variables_map& given) {
  const auto check = [](const std::string& name, const std::string& shown) {
    if (isLearned(name) && name != "palette")
      throw UsageError(
          fmt::format("{} is what a painter has learned once and for all; learn another one with it: "
                      "jugendstil learn REF --{} ...",
                      shown, name));
  };
  for (const SettingInfo& info : paintSettingTable()) {
    if (given.count(info.name) != 0) check(info.name, "--" + info.name);
  }
  for (const std::string& word : listOf(given, "vary")) {
    const std::string name = word.substr(0, word.find('='));
    check(name, "--vary " + name);
    if (std::any_of(std::begin(kOfOptimising), std::end(kOfOptimising), [&](auto* n) { return name == n; }))
      throw UsageError(fmt::format("--vary {} goes with --after REF: a painter paints at once", name));
  }
}

const QuickPainter* read(RecipeInput& input, bool quiet, Painters& painters) {
  knowFile(input, "painter", quiet);
  painters.all.push_back(std::make_unique<QuickPainter>(readQuickPainter(input.path)));
  return painters.all.back().get();
}

}  // namespace

PaintSettings begunSettings(PaintSettings settings) {
  constexpr int kSteps = 120;
  settings.start = "painter";
  if (settings.steps.empty() && settings.levels == 0) {
    settings.levels = 1;
    settings.steps = {kSteps};
  }
  return settings;
}

bool paintsAtOnce(const PaintRecipe& recipe) {
  const bool byParts = std::any_of(recipe.parts.begin(), recipe.parts.end(),
                                   [](const RecipePart& part) { return isPainter(part.reference); });
  return recipe.references.empty() && (recipe.painter || byParts);
}

void requireSenseOfPainters(const PaintRecipe& recipe, const po::variables_map& given) {
  for (const RecipeInput& reference : recipe.references) {
    if (isPainter(reference))
      throw UsageError(
          fmt::format("{0} is a painter, not a reference: give it with --with {0}", reference.path.string()));
  }
  for (const RecipePart& part : recipe.parts) {
    if (isPainter(part.reference) == paintsAtOnce(recipe)) continue;
    throw UsageError(paintsAtOnce(recipe)
                         ? fmt::format("{} is a reference; where painters paint, each part needs one: --part "
                                       "MASK=NAME.painter.onnx",
                                       part.reference.path.string())
                         : fmt::format("{} is a painter; with --after, parts are painted after references",
                                       part.reference.path.string()));
  }
  if (recipe.painter && !paintsAtOnce(recipe) && given.count("start") != 0)
    throw UsageError("--with and --start both say what the painting begins with; leave one out");
  if (!paintsAtOnce(recipe)) return;
  if (given.count("chart") != 0)
    throw UsageError("--chart draws the steps of a painting, and a painter paints at once; leave it out");
  refuseLearnedOrOptimising(given);
}

void refuseLearnedOrOptimising(const po::variables_map& given) {
  refuseOptimising(given);
  refuseLearned(given);
}

Painters readPainters(PaintRecipe& recipe, bool quiet) {
  Painters painters;
  if (recipe.painter) painters.choice.whole = read(*recipe.painter, quiet, painters);
  std::vector<std::filesystem::path> masks;
  for (RecipePart& part : recipe.parts) {
    if (!isPainter(part.reference)) continue;
    if (std::find(masks.begin(), masks.end(), part.mask.path) != masks.end())
      throw UsageError(
          fmt::format("{} has two painters; one paints under each mask", part.mask.path.string()));
    masks.push_back(part.mask.path);
    painters.choice.parts.push_back(read(part.reference, quiet, painters));
  }
  return painters;
}

}  // namespace jugendstil::cli
