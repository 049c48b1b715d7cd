// SPDX-License-Identifier: Apache-2.0
#include "cli/completion.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "cli/option_info.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {
namespace {

std::string joined(const std::vector<std::string>& words, const char* between) {
  return fmt::format("{}", fmt::join(words, between));
}

std::string replaced(std::string text, const std::string& from, const std::string& to) {
  for (std::size_t at = 0; (at = text.find(from, at)) != std::string::npos; at += to.size())
    text.replace(at, from.size(), to);
  return text;
}

// In single quotes of a shell.
std::string quoted(const std::string& text) { return "'" + replaced(text, "'", "'\\''") + "'"; }

// A long explanation is of no use while one types.
std::string brief(const std::string& help) {
  const std::string first = help.substr(0, help.find_first_of(":;("));
  return first.substr(0, first.find_last_not_of(' ') + 1);
}

bool takesNext(const OptionInfo& option) {
  return option.kind != ValueKind::none && option.kind != ValueKind::yesNo;
}

// --- bash

// What is offered behind an option, as lines of a function.
std::string bashOffer(const OptionInfo& option) {
  std::string lines;
  if (!option.words.empty()) lines += fmt::format("words {}; ", quoted(joined(option.words, " ")));
  if (option.kind == ValueKind::file || !option.extensions.empty())
    lines += fmt::format("files {}; ", quoted(joined(option.extensions, "|")));
  if (option.kind == ValueKind::folder) lines += "folders; ";
  return lines;
}

std::string bashCommand(const CommandInfo& command) {
  std::string names;
  std::string values;
  std::string plain;
  for (const OptionInfo& option : optionsOf(command)) {
    names += fmt::format(" --{}", option.name);
    std::string pattern = "--" + option.name;
    if (option.letter != 0) {
      names += fmt::format(" -{}", option.letter);
      pattern += fmt::format("|-{}", option.letter);
    }
    if (option.plain) plain = bashOffer(option);
    if (option.kind == ValueKind::yesNo)
      values += fmt::format("        {}) [ -n \"$equals\" ] && {{ words 'yes no'; return; }} ;;\n", pattern);
    else if (takesNext(option))
      values += fmt::format("        {}) {}return ;;\n", pattern, bashOffer(option));
  }
  return fmt::format(
      "    {}{})\n      case $previous in\n{}      esac\n      case $current in\n        -*) words '{}' ;;\n "
      "     "
      "  *) {}"
      "true ;;\n      esac ;;\n",
      command.name, "", values, names.substr(1), plain);
}

std::string bashScript(const std::vector<CommandInfo>& commands) {
  std::string names;
  std::string cases;
  for (const CommandInfo& command : commands) {
    names += std::string(command.name) + " ";
    cases += bashCommand(command);
  }
  return R"(# Completion of jugendstil for bash; written by "jugendstil help --completion bash".
_jugendstil() {
  local current=${COMP_WORDS[COMP_CWORD]} previous=${COMP_WORDS[COMP_CWORD-1]} equals= IFS=$' \t\n'
  COMPREPLY=()
  words() { COMPREPLY+=($(compgen -W "$1" -- "$current")); }
  folders() { local IFS=$'\n'; COMPREPLY+=($(compgen -d -- "$current")); }
  # Those whose name ends like one of $1 (a|b|c), or all; and folders.
  files() {
    local file
    while IFS= read -r file; do
      case "|$1|" in "||" | *"|${file##*.}|"*) ;; *) [ -d "$file" ] || continue ;; esac
      COMPREPLY+=("$file")
    done < <(compgen -f -- "$current")
  }
  # Bash takes "=" for a word of its own.
  if [ "$current" = = ]; then
    equals=yes current=
  elif [ "$previous" = = ]; then
    equals=yes previous=${COMP_WORDS[COMP_CWORD-2]}
  fi
  if [ "$COMP_CWORD" -eq 1 ]; then
    words ')" +
         names + R"(help --help --version'
    return
  fi
  case ${COMP_WORDS[1]} in
    help) words ')" +
         names +
         R"(--manual --completion'; [ "$previous" != --completion ] || { COMPREPLY=(); words 'bash zsh fish'; } ;;
)" + cases +
         R"(  esac
}
complete -o filenames -F _jugendstil jugendstil
)";
}

// --- zsh

std::string zshText(const std::string& text) {
  std::string out = replaced(text, "\\", "\\\\");
  for (const char* sign : {"[", "]", ":"}) out = replaced(out, sign, std::string("\\") + sign);
  return out;
}

std::string zshOffer(const OptionInfo& option) {
  if (!option.words.empty() && option.extensions.empty()) return "(" + joined(option.words, " ") + ")";
  if (option.kind == ValueKind::folder) return "_files -/";
  if (option.kind == ValueKind::file && option.extensions.empty()) return "_files";
  const std::string files = fmt::format("_files -g \"*.({})(-.)\"", joined(option.extensions, "|"));
  if (option.words.empty()) return option.extensions.empty() ? "" : files;
  return fmt::format("{{compadd {}; {}}}", joined(option.words, " "), files);
}

std::string zshSpecs(const OptionInfo& option) {
  const std::string value = zshText(option.value.empty() ? option.name : option.value);
  std::string specs;
  if (option.plain)
    specs += fmt::format("        {} \\\n", quoted(fmt::format("*:{}:{}", value, zshOffer(option))));
  std::string behind = fmt::format("[{}]", zshText(brief(option.help)));
  if (option.kind == ValueKind::yesNo)
    behind = fmt::format("=-{}::{}:(yes no)", behind, "value");
  else if (takesNext(option))
    behind = fmt::format("{}:{}:{}", behind, value, zshOffer(option));
  specs += fmt::format("        {} \\\n", quoted(fmt::format("*--{}{}", option.name, behind)));
  if (option.letter != 0)
    specs += fmt::format("        {} \\\n", quoted(fmt::format("*-{}{}", option.letter, behind)));
  return specs;
}

std::string zshScript(const std::vector<CommandInfo>& commands) {
  std::string list;
  std::string cases;
  for (const CommandInfo& command : commands) {
    list += fmt::format("    {}\n", quoted(fmt::format("{}:{}", command.name, zshText(command.help))));
    cases += fmt::format("    {})\n      _arguments \\\n", command.name);
    for (const OptionInfo& option : optionsOf(command)) cases += zshSpecs(option);
    cases += "        '-h[a short help]' ;;\n";
  }
  return "#compdef jugendstil\n"
         "# Completion of jugendstil for zsh; written by \"jugendstil help --completion zsh\".\n"
         "_jugendstil() {\n  local -a commands=(\n" +
         list +
         "    'help:say how a command is called'\n  )\n  if (( CURRENT == 2 )); then\n"
         "    _describe command commands\n    return\n  fi\n  local command=$words[2]\n  shift words\n"
         "  (( CURRENT-- ))\n  case $command in\n    help) _describe command commands ;;\n" +
         cases + "  esac\n}\n_jugendstil \"$@\"\n";
}

// --- fish

std::string fishText(const std::string& text) {
  return "'" + replaced(replaced(text, "\\", "\\\\"), "'", "\\'") + "'";
}

std::string fishOffer(const OptionInfo& option) {
  std::string offer = joined(option.words, " ");
  if (!option.extensions.empty())
    offer +=
        fmt::format("{}(__jugendstil_files {})", offer.empty() ? "" : " ", joined(option.extensions, " "));
  if (option.kind == ValueKind::folder) offer = "(__fish_complete_directories)";
  return offer;
}

std::string fishLines(const CommandInfo& command) {
  const std::string begin =
      fmt::format("complete -c jugendstil -n '__fish_seen_subcommand_from {}'", command.name);
  std::string lines;
  for (const OptionInfo& option : optionsOf(command)) {
    const std::string offer = fishOffer(option);
    const bool anyFile = option.kind == ValueKind::file && option.extensions.empty();
    if (option.plain)
      lines += fmt::format("{} {}\n", begin, anyFile ? "-F" : fmt::format("-a {}", fishText(offer)));
    lines += fmt::format("{} -l {}", begin, option.name);
    if (option.letter != 0) lines += fmt::format(" -s {}", option.letter);
    if (takesNext(option)) lines += anyFile ? " -r -F" : offer.empty() ? " -x" : " -x -a " + fishText(offer);
    if (option.kind == ValueKind::yesNo) lines += " -f -a 'yes no'";
    lines += fmt::format(" -d {}\n", fishText(brief(option.help)));
  }
  return lines;
}

std::string fishScript(const std::vector<CommandInfo>& commands) {
  std::string out =
      "# Completion of jugendstil for fish; written by \"jugendstil help --completion fish\".\n"
      "# Files whose names end like one of these, and folders.\n"
      "function __jugendstil_files\n"
      "  set -l files (complete -C \"__fish_command_without_completions \"(commandline -ct))\n"
      "  for ending in $argv\n    string match -r -- \"^.*\\.$ending\\$\" $files\n  end\n"
      "  string match -r -- '^.*/$' $files\nend\n"
      "complete -c jugendstil -f\n";
  for (const CommandInfo& command : commands)
    out += fmt::format("complete -c jugendstil -n __fish_use_subcommand -a {} -d {}\n", command.name,
                       fishText(command.help));
  out += "complete -c jugendstil -n __fish_use_subcommand -a help -d 'say how a command is called'\n";
  for (const CommandInfo& command : commands) out += fishLines(command);
  return out;
}

}  // namespace

std::string completionScript(const std::vector<CommandInfo>& commands, const std::string& shell) {
  if (shell == "bash") return bashScript(commands);
  if (shell == "zsh") return zshScript(commands);
  if (shell == "fish") return fishScript(commands);
  refuseWord("--completion", shell, {"bash", "zsh", "fish"});
}

}  // namespace jugendstil::cli
