// SPDX-License-Identifier: Apache-2.0
#include "cli/painters.h"

#include <fmt/format.h>

#include <algorithm>
#include <span>

#include "base/error.h"
#include "base/file_name.h"
#include "base/number.h"
#include "cli/recipe_options.h"
#include "learn/general_painter.h"

namespace jugendstil::cli {
namespace {

bool isPainter(const RecipeInput& input) { return extensionOf(input.path) == ".onnx"; }

// Of settings that only optimising has.
constexpr const char* kOfOptimising[] = {"start",  "solver",   "steps",      "until",
                                         "levels", "style-at", "content-at", "snapshots"};
// Of those that the general painter does not know.
constexpr const char* kOfLearning[] = {"measure", "content", "emphasis"};

// The names of what was given or varied among these.
std::vector<std::string> givenOf(const po::variables_map& given, std::span<const char* const> names) {
  std::vector<std::string> found;
  for (const char* name : names) {
    if (given.count(name) != 0) found.push_back(fmt::format("--{}", name));
    for (const std::string& word : listOf(given, "vary"))
      if (word.substr(0, word.find('=')) == name) found.push_back(fmt::format("--vary {}", name));
  }
  return found;
}

void refuseOptimising(const po::variables_map& given) {
  for (const std::string& name : givenOf(given, kOfOptimising))
    throw UsageError(fmt::format("{} goes with --after REF: a painter paints at once, without steps", name));
}

void requireSenseOfQuick(const PaintRecipe& recipe, const po::variables_map& given) {
  if (recipe.painter) throw UsageError("--with and --quick both paint at once; leave one out");
  for (const RecipePart& part : recipe.parts) {
    if (isPainter(part.reference))
      throw UsageError(fmt::format("{} is a painter, and --quick paints after references; leave --quick out",
                                   part.reference.path.string()));
  }
  refuseWithQuick(given);
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
  }
}

const QuickPainter* read(RecipeInput& input, bool quiet, Painters& painters) {
  knowFile(input, "painter", quiet);
  painters.all.push_back(std::make_unique<QuickPainter>(readQuickPainter(input.path)));
  return painters.all.back().get();
}

}  // namespace

void refuseWithQuick(const po::variables_map& given) {
  for (const std::string& name : givenOf(given, kOfOptimising))
    throw UsageError(fmt::format("{} goes without --quick, which paints at once, without steps", name));
  for (const std::string& name : givenOf(given, kOfLearning))
    throw UsageError(
        fmt::format("{} goes without --quick: the general painter has learned the usual one", name));
}

PaintSettings begunSettings(PaintSettings settings) {
  settings.start = "painter";
  if (!settings.steps.empty() || settings.levels != 0) return settings;
  // As in planPainting(), brush-work replaces what more steps are for.
  settings.steps = settings.brushwork ? std::vector{60, 32} : std::vector{120};
  settings.levels = countOf(settings.steps);
  return settings;
}

bool paintsAtOnce(const PaintRecipe& recipe) {
  const bool byParts = std::any_of(recipe.parts.begin(), recipe.parts.end(),
                                   [](const RecipePart& part) { return isPainter(part.reference); });
  return recipe.settings.quick || (recipe.references.empty() && (recipe.painter || byParts));
}

void requireSenseOfPainters(const PaintRecipe& recipe, const po::variables_map& given) {
  for (const RecipeInput& reference : recipe.references) {
    if (isPainter(reference))
      throw UsageError(
          fmt::format("{0} is a painter, not a reference: give it with --with {0}", reference.path.string()));
  }
  if (paintsAtOnce(recipe) && given.count("chart") != 0)
    throw UsageError("--chart draws the steps of a painting, and a painter paints at once; leave it out");
  if ((paintsAtOnce(recipe) || recipe.settings.quick) && !recipe.holds.empty())
    throw UsageError(
        "--hold goes with --after; a painter that paints at once holds what it has learned to hold");
  if (recipe.settings.quick) return requireSenseOfQuick(recipe, given);
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
  if (paintsAtOnce(recipe)) refuseLearnedOrOptimising(given);
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

QuickPainter generalPainter(const std::vector<PaintReference>& references, const Chain& chain,
                            const PaintSettings& settings) {
  return painterFor(readGeneralPainter(shippedGeneralPainter()), chain, references, {settings});
}

Painters generalPainters(const PaintInputs& inputs, const Chain& chain, const PaintSettings& settings) {
  const GeneralPainter general = readGeneralPainter(shippedGeneralPainter());
  Painters painters;
  const auto paint = [&](const std::vector<PaintReference>& references) {
    painters.all.push_back(
        std::make_unique<QuickPainter>(painterFor(general, chain, references, {settings})));
    return painters.all.back().get();
  };
  if (!inputs.references.empty()) painters.choice.whole = paint(inputs.references);
  for (const PaintPart& part : inputs.parts) painters.choice.parts.push_back(paint(part.references));
  return painters;
}

}  // namespace jugendstil::cli
