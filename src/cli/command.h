// SPDX-License-Identifier: Apache-2.0
// The commands of the program. Each parses its own words, calls the library and tells what happened.
#pragma once

#include <string>
#include <vector>

#include "cli/help.h"

namespace jugendstil::cli {

using Words = std::vector<std::string>;

// Each returns the exit code: 0 done, 130 stopped by Ctrl-C with the state kept. Errors are thrown.
int paintCommand(const Words& words);
int redoCommand(const Words& words);
int gradeCommand(const Words& words);
int lookCommand(const Words& words);
int maskCommand(const Words& words);
int compareCommand(const Words& words);
int filmCommand(const Words& words);
int redoFilm(const Words& words);     // redo, where the recipe is of a film,
int redoGrade(const Words& words);    // of a grade,
int redoWeave(const Words& words);    // of a weave,
int redoAmplify(const Words& words);  // of an amplified photo,
int redoDive(const Words& words);     // of a dive,
int redoLearn(const Words& words);    // or of a quick painter
int weaveCommand(const Words& words);
int learnCommand(const Words& words);
int amplifyCommand(const Words& words);
int diveCommand(const Words& words);
int layCommand(const Words& words);
int networkCommand(const Words& words);
int shelfCommand(const Words& words);
int historyCommand(const Words& words);
int demoCommand(const Words& words);

// What each is called with: the options that it parses, and how it says so.
CommandHelp paintHelp();
CommandHelp redoHelp();
CommandHelp gradeHelp();
CommandHelp redoGradeHelp();
CommandHelp lookHelp();
CommandHelp maskHelp();
CommandHelp compareHelp();
CommandHelp filmHelp();
CommandHelp redoFilmHelp();
CommandHelp weaveHelp();
CommandHelp redoWeaveHelp();
CommandHelp learnHelp();
CommandHelp redoLearnHelp();
CommandHelp amplifyHelp();
CommandHelp redoAmplifyHelp();
CommandHelp diveHelp();
CommandHelp redoDiveHelp();
CommandHelp layHelp();
CommandHelp networkHelp();
CommandHelp shelfHelp();
CommandHelp historyHelp();
CommandHelp demoHelp();

// A command as it is listed.
struct CommandInfo {
  const char* name;
  const char* help;
  int (*run)(const Words&);
  std::vector<CommandHelp (*)()> describe;  // of redo one for each kind of recipe
};
const std::vector<CommandInfo>& commandTable();

// Dispatches, and turns every error into one line and an exit code: 2 for usage, 1 for the rest.
int runProgram(const Words& words);

}  // namespace jugendstil::cli
