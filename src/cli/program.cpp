// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <exception>
#include <filesystem>
#include <new>
#include <nlohmann/json.hpp>
#include <system_error>

#include "base/error.h"
#include "base/stop.h"
#include "base/words.h"
#include "cli/command.h"
#include "cli/completion.h"
#include "cli/manual.h"
#include "cli/say.h"
#include "paint/settings.h"

namespace jugendstil::cli {

const std::vector<CommandInfo>& commandTable() {
  static const std::vector<CommandInfo> table{
      {"paint", "repaint a photo in the manner of references", paintCommand, {paintHelp}},
      {"redo",
       "run a recipe again, exactly or with changes; go on with what was stopped",
       redoCommand,
       {redoHelp, redoGradeHelp, redoFilmHelp, redoWeaveHelp, redoAmplifyHelp, redoDiveHelp, redoLearnHelp}},
      {"grade",
       "match tone, colour and local contrast of photos to a reference photo",
       gradeCommand,
       {gradeHelp}},
      {"look", "show, edit, mix, import and export the looks that grade makes", lookCommand, {lookHelp}},
      {"film", "paint or grade a clip or a folder of frames, steadily", filmCommand, {filmHelp}},
      {"weave",
       "grow textures from swatches, mix them, along a drawing; fill holes in pictures",
       weaveCommand,
       {weaveHelp}},
      {"learn",
       "teach a small network references once, to paint in the blink of an eye",
       learnCommand,
       {learnHelp}},
      {"amplify", "strengthen the patterns that the network sees in a photo", amplifyCommand, {amplifyHelp}},
      {"dive", "a film that falls into its own amplified or painted frames", diveCommand, {diveHelp}},
      {"mask", "make, combine and soften masks for a photo", maskCommand, {maskHelp}},
      {"compare",
       "pictures side by side, as a page and in numbers; how steady clips are",
       compareCommand,
       {compareHelp}},
      {"lay", "paintings over their photo again: other strength, blend mode, mask", layCommand, {layHelp}},
      {"shelf",
       "the collection of references, looks and painters: names, tags, search",
       shelfCommand,
       {shelfHelp}},
      {"network", "look into feature networks, and bring your own", networkCommand, {networkHelp}},
      {"history",
       "list what was made here - paintings, films, weaves, dives - and what differs",
       historyCommand,
       {historyHelp}},
      {"demo", "paint, grade and weave the built-in photos, clip and swatches", demoCommand, {demoHelp}},
  };
  return table;
}

namespace {

void printHelp() {
  say(stdout,
      "jugendstil {} - paints and grades photos in the manner of reference pictures\n\nusage: jugendstil "
      "COMMAND ...\n       jugendstil help COMMAND\n       jugendstil help --manual | --completion "
      "bash|zsh|fish\n"
      "       jugendstil --version\n\n",
      JUGENDSTIL_VERSION);
  for (const CommandInfo& c : commandTable()) say(stdout, "  {:<8} {}\n", c.name, c.help);
  say(stdout,
      "\nFirst steps:\n  jugendstil demo\n  jugendstil paint photo.jpg --after painting.jpg -o out.png\n"
      "  jugendstil grade photo.jpg --after other_photo.jpg -o out.jpg\n"
      "  jugendstil film clip.mp4 --after painting.jpg --proof -o out.mp4\n");
}

int dispatch(const Words& words);

// Of one command, or all of them for other programs to show.
int helpWith(const Words& words) {
  if (words[0] == "--manual") {
    sayText(stdout, manualPage(commandTable()));
    return 0;
  }
  if (words[0] != "--completion") return dispatch({words[0], "--help"});
  if (words.size() != 2) throw UsageError("help --completion needs a shell: bash, zsh or fish");
  sayText(stdout, completionScript(commandTable(), words[1]));
  return 0;
}

int dispatch(const Words& words) {
  if (words.size() > 1 && words[0] == "help") return helpWith({words.begin() + 1, words.end()});
  if (words.empty() || words[0] == "--help" || words[0] == "-h" || words[0] == "help") {
    printHelp();
    return words.empty() ? 2 : 0;
  }
  if (words[0] == "--version" || words[0] == "-V") {
    say(stdout, "jugendstil {}\n", JUGENDSTIL_VERSION);
    return 0;
  }
  std::vector<std::string> names;
  for (const CommandInfo& c : commandTable()) {
    if (words[0] == c.name) return c.run({words.begin() + 1, words.end()});
    names.emplace_back(c.name);
  }
  const std::string near = nearestWord(words[0], names);
  throw UsageError(fmt::format("there is no command \"{}\"{}; see jugendstil --help", words[0],
                               near.empty() ? "" : fmt::format(", did you mean \"{}\"?", near)));
}

bool wantsJson(const Words& words) {
  for (std::size_t i = 0; i < words.size() && words[i] != "--"; ++i) {
    if (words[i] == "--progress=json") return true;
    if (words[i] == "--progress" && i + 1 < words.size() && words[i + 1] == "json") return true;
  }
  return false;
}

// One line, whatever a file's name is; and an event for those who read events.
int complain(const Words& words, const std::string& told, int code) {
  const std::string message = onOneLine(told);
  say(stderr, "jugendstil: {}\n", message);
  if (wantsJson(words))
    sayJson(stdout, {{"event", code == 130 ? "stopped" : "error"}, {"message", message}, {"code", code}});
  return code;
}

int runAndComplain(const Words& words) {
  try {
    return dispatch(words);
  } catch (const Stopped&) {
    return complain(words, "stopped; nothing was written", 130);
  } catch (const UsageError& e) {
    return complain(words, e.what(), 2);
  } catch (const Error& e) {
    return complain(words, e.what(), 1);
  } catch (const std::bad_alloc&) {
    return complain(words, "not enough memory for a picture of this size; try a smaller --long-edge", 1);
  } catch (const std::filesystem::filesystem_error& e) {
    return complain(words, fmt::format("{}: {}", e.path1().string(), e.code().message()), 1);
  } catch (const std::system_error& e) {
    return complain(
        words, fmt::format("the system gives no more threads ({}); close other programs", e.code().message()),
        1);
  } catch (const std::exception&) {
    // What a library says of itself is of no use to a painter; a debugger shows it (catch throw).
    return complain(words,
                    "something failed that should not have; please report this with the command you gave and "
                    "the files it names",
                    1);
  }
}

}  // namespace

int runProgram(const Words& words) {
  const int code = runAndComplain(words);
  if (code == 0 && !outputIsWhole())
    return complain(words,
                    "standard output could not take all that was told there; files are as they should be", 1);
  return code;
}

}  // namespace jugendstil::cli
