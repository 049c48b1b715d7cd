// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include "base/error.h"
#include "base/words.h"
#include "cli/shelf_names.h"
#include "cli/shelf_request.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

const char* const kUsage =
    "usage: jugendstil shelf add FILES|FOLDERS... [--tag oil,night] [--album NAME] [--note TEXT] [--keep]\n"
    "       jugendstil shelf list | find WORDS... [--tag T] [--album A] [--like PICTURE] [--colour "
    "'#204060']\n"
    "       jugendstil shelf suits PHOTO [--tag T] [--most N] [-o SHEET.png]\n"
    "       jugendstil shelf tag NAMES... [--tag T] [--album A] [--without T] [--note TEXT] [--name NEW]\n"
    "       jugendstil shelf forget NAMES...\n"
    "       jugendstil shelf sheet|page|export [WORDS...] -o OUT\n"
    "       jugendstil shelf import FILE.zip | check [FOLDERS...]\n\n"
    "Keeps references, swatches, masks, looks, recipes and quick painters under names, with tags and "
    "albums.\n"
    "The files stay where they are. Their names stand wherever a file can: --after evening, --look dusk,\n"
    "--after tag:night (each by itself), --with oil. A file of that name goes first.\n\n"
    "  jugendstil shelf add ~/pictures/references --tag oil\n"
    "  jugendstil shelf find night --colour '#204060'\n"
    "  jugendstil shelf suits gate.jpg -o suits.png\n"
    "  jugendstil paint gate.jpg --after evening -o gate_evening.png\n";

po::options_description actionOptions() {
  auto options = optionGroup("Files");
  options.add_options()("action", textValue("add|list|find|suits|tag|forget|sheet|page|export|import|check"),
                        "what to do (the first plain word)")(
      "words", textsValue("FILES|NAMES|WORDS"),
      "files to add, names, or words to look for (the other plain words)")(
      "output,o", textValue("OUT"),
      "sheet: .png or .jpg; suits: a sheet of the photo painted at once after each; page: .html, complete in "
      "itself; "
      "export: .zip")("shelf", textValue("DIR"), "another shelf than your own");
  return options;
}

po::options_description entryOptions() {
  auto options = optionGroup("Putting on, and telling apart");
  options.add_options()("tag,t", textsValue("T,..."),
                        "add, tag: with these tags; else only those that have all of them")(
      "album", textsValue("A,..."), "the same for albums")(
      "without", textsValue("T,..."), "tag: take these tags and albums away")("note", textValue("TEXT"),
                                                                              "what there is to say of it")(
      "name,n", textValue("NAME"), "add, tag: what a single one is called (by its file)")(
      "as", textValue("reference|swatch|mask|look|recipe|painter"),
      "add: what it is (by its file's name; a picture is a reference); else only these")(
      "keep", "add: copy the files into the shelf, so that theirs may go")(
      "like", textValue("PICTURE"), "find: the most alike first, in colours, tones and size of detail")(
      "colour", textValue("#RRGGBB"), "find: those with most of this colour first")(
      "most", textValue("N"), "so many at most (12 where they are ranked, 60 on a sheet; else all)")(
      "json", "one object a line, for other programs")("force,f", "replace files that exist")(
      "quiet,q", "nothing but what failed");
  addHelpOptions(options);
  return options;
}

struct Action {
  const char* name;
  int (*run)(ShelfRequest&);
};
constexpr Action kActions[] = {
    {"add", addToShelf},          {"list", listShelf},       {"find", findOnShelf},   {"tag", tagOnShelf},
    {"forget", forgetOnShelf},    {"suits", suitsOnShelf},   {"sheet", sheetOfShelf}, {"page", pageOfShelf},
    {"export", exportShelfFiles}, {"import", importToShelf}, {"check", checkOnShelf}};

const Action& actionNamed(const std::string& name) {
  std::vector<std::string> names;
  for (const Action& action : kActions) {
    if (action.name == name) return action;
    names.push_back(action.name);
  }
  const std::string near = nearestWord(name, names);
  throw UsageError(fmt::format("shelf has no action \"{}\"{}; it has {}", name,
                               near.empty() ? "" : fmt::format(", did you mean {}?", near),
                               fmt::join(names, ", ")));
}

// The user's own, or the one that was given.
fs::path shelfFor(const po::variables_map& given, const std::string& action) {
  fs::path folder = given.count("shelf") != 0 ? fs::path(textOf(given, "shelf")) : shelfFolder();
  if (folder.empty())
    throw Error(
        "there is no place for a shelf: neither XDG_DATA_HOME nor HOME is set; name one with --shelf DIR");
  if (action != "add" && action != "import" && !Shelf::standsIn(folder))
    throw Error(
        fmt::format("there is no shelf in {} yet; jugendstil shelf add FILES makes one", folder.string()));
  return folder;
}

}  // namespace

CommandHelp shelfHelp() { return {kUsage, {actionOptions(), entryOptions()}}; }

int shelfCommand(const Words& words) {
  const CommandHelp help = shelfHelp();
  po::positional_options_description positions;
  positions.add("action", 1).add("words", -1);
  const auto given = parseWords(words, help.options(), positions, "shelf");
  if (sayHelpIfAsked(given, help)) return 0;
  if (given.count("action") == 0)
    throw UsageError(
        "shelf needs an action: add, list, find, suits, tag, forget, sheet, page, export, import or check");
  const std::string name = textOf(given, "action");
  const Action& action = actionNamed(name);
  ShelfRequest request{given, Shelf(shelfFor(given, name)), listOf(given, "words")};
  return action.run(request);
}

}  // namespace jugendstil::cli
