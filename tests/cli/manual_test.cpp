// SPDX-License-Identifier: Apache-2.0
// The manual and the completions against what the commands parse.
#include <gtest/gtest.h>

#include <cstdlib>
#include <regex>
#include <set>

#include "cli/option_info.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil::cli {
namespace {

using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::writeContent;

class Written : public testing::Test {
 protected:
  std::string told(const Words& words) const {
    const RunResult r = testing_support::runProgram(words, folder.path);
    EXPECT_EQ(r.code, 0) << r.err;
    return r.out;
  }
  // The long options that a command parses.
  static std::set<std::string> optionsParsed(const CommandInfo& command) {
    std::set<std::string> names;
    for (const auto describe : command.describe) {
      const auto all = describe().options();
      for (const auto& option : all.options()) {
        if (option->long_name().size() > 2) names.insert("--" + option->long_name());
      }
    }
    EXPECT_GT(names.size(), 4U) << command.name;
    return names;
  }
  // What a shell says to a script.
  std::string answer(const std::string& shell, const std::string& script) const {
    writeContent(folder / "script", script);
    const std::string command = "cd " + folder.path.string() + " && " + shell + " script > answer 2>&1";
    EXPECT_EQ(std::system(command.c_str()), 0) << contentOf(folder / "answer");
    return contentOf(folder / "answer");
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(Written, TheManualHasEveryOptionOfEveryCommandAndNoOther) {
  const std::string page = told({"help", "--manual"});
  for (const CommandInfo& command : commandTable()) {
    std::string title = command.name;
    for (char& c : title) c = static_cast<char>(std::toupper(c));
    const std::size_t begin = page.find("\n.SH " + title + "\n");
    ASSERT_NE(begin, std::string::npos) << title;
    const std::string section = page.substr(begin, page.find("\n.SH ", begin + 1) - begin);
    for (const std::string& name : optionsParsed(command)) {
      if (name == "--help") continue;
      const std::string written = "\\fB" + std::regex_replace(name, std::regex("-"), "\\-");
      EXPECT_NE(section.find(written), std::string::npos) << command.name << " " << name;
    }
  }
  EXPECT_EQ(page.find('@' + std::string("SECTIONS")), std::string::npos);
  EXPECT_NE(page.find(".SH EVENTS"), std::string::npos);
}

TEST_F(Written, EveryShellIsOfferedEveryOption) {
  for (const char* shell : {"bash", "zsh", "fish"}) {
    const std::string script = told({"help", "--completion", shell});
    for (const CommandInfo& command : commandTable()) {
      for (const std::string& name : optionsParsed(command)) {
        const bool fish = std::string(shell) == "fish";
        const std::string written =
            fish ? "from " + std::string(command.name) + "' -l " + name.substr(2) : name;
        EXPECT_NE(script.find(written), std::string::npos) << shell << " " << command.name << " " << name;
      }
    }
    EXPECT_NE(script.find("gram moments sliced neighbours critic"), std::string::npos) << shell;
  }
  testing_support::expectError({"help", "--completion", "csh"}, folder.path, 2, "bash, zsh or fish");
}

TEST_F(Written, BashCompletesOptionsValuesAndFilesByKind) {
  writeContent(folder / "c.bash", told({"help", "--completion", "bash"}));
  for (const char* name : {"a.png", "b.recipe.toml", "c.txt"}) writeContent(folder / name, "");
  const std::string said = answer("bash", R"(source ./c.bash
try() { COMP_WORDS=("$@"); COMP_CWORD=$(($# - 1)); _jugendstil; echo "${COMPREPLY[*]}"; }
try jugendstil pa
try jugendstil paint --mea
try jugendstil paint --measure ""
try jugendstil paint --brushwork = y
try jugendstil paint --vary likene
try jugendstil redo ""
try jugendstil paint ""
try jugendstil redo --ste
try jugendstil grade --blend soft
)");
  EXPECT_EQ(said,
            "paint\n--measure\ngram moments sliced neighbours critic\nyes\nlikeness=\nb.recipe.toml\na.png\n"
            "--steps --steady\nsoft-light\n");
}

TEST_F(Written, FishCompletesOptionsValuesAndFilesByKind) {
  writeContent(folder / "c.fish", told({"help", "--completion", "fish"}));
  for (const char* name : {"a.png", "b.look.toml", "c.txt"}) writeContent(folder / name, "");
  const std::string said = answer("fish", R"(source ./c.fish
complete -C 'jugendstil hist' | cut -f1
complete -C 'jugendstil paint --measure c' | cut -f1
complete -C 'jugendstil grade --look ' | cut -f1
complete -C 'jugendstil film --stead' | cut -f1
)");
  EXPECT_EQ(said, "history\ncritic\na.png\nb.look.toml\n--steady\n");
}

TEST_F(Written, ZshIsToldOptionsValuesAndFilesByKind) {
  writeContent(folder / "c.zsh", told({"help", "--completion", "zsh"}));
  const std::string said = answer("zsh -f", R"(_arguments() { print -l -- "$@" }
words=(jugendstil grade '') CURRENT=3
source ./c.zsh
)");
  EXPECT_NE(said.find("*--method[how colour is matched]:mean-std|covariance|distribution:"
                      "(mean-std covariance distribution)\n"),
            std::string::npos)
      << said;
  EXPECT_NE(said.find("*:PHOTO...:_files -g \"*.(png|jpg|"), std::string::npos);
  EXPECT_NE(
      said.find("*--together=-[one look for all photos, so that a series stays even]::value:(yes no)\n"),
      std::string::npos);
}

}  // namespace
}  // namespace jugendstil::cli
