// SPDX-License-Identifier: Apache-2.0
#include "cli/manual.h"

#include <fmt/format.h>

#include <algorithm>
#include <sstream>

#include "cli/option_info.h"

namespace jugendstil::cli {

extern const char* const kManualText;  // manual.roff, compiled in

namespace {

// Hyphens that are typed, and what roff would take for its own at the start of a line.
std::string roff(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '\\') {
      out += "\\e";
    } else if (c == '-') {
      out += "\\-";
    } else {
      if ((c == '.' || c == '\'') && (out.empty() || out.back() == '\n')) out += "\\&";
      out += c;
    }
  }
  return out;
}

// A usage text: how it is called, what it does, examples.
struct Usage {
  std::string synopsis;
  std::string text;
  std::string examples;
};

Usage usageOf(const CommandHelp& help) {
  Usage usage;
  std::istringstream lines(help.usage);
  const std::string start = "usage: ";
  for (std::string line; std::getline(lines, line);) {
    if (line.starts_with(start) || line.starts_with("       jugendstil")) {
      usage.synopsis += roff(line.substr(start.size())) + "\n.br\n";
    } else if (line.starts_with("  ")) {
      usage.examples += roff(line.substr(2)) + "\n";
    } else if (!line.empty()) {
      usage.text += roff(line) + "\n";
    }
  }
  return usage;
}

std::string entryOf(const OptionInfo& option) {
  std::string head;
  if (option.letter != 0) head = fmt::format("\\fB\\-{}\\fR, ", option.letter);
  head += fmt::format("\\fB{}\\fR", roff("--" + option.name));
  if (option.kind == ValueKind::yesNo)
    head += roff(option.value);
  else if (!option.value.empty())
    head += fmt::format(" \\fI{}\\fR", roff(option.value));
  return fmt::format(".TP\n{}\n{}\n", head, roff(option.help));
}

bool isTold(const std::string& name, std::vector<std::string>& told) {
  if (std::find(told.begin(), told.end(), name) != told.end()) return true;
  told.push_back(name);
  return false;
}

// The options of redo are those of the commands whose recipes it runs, so only its own are told.
std::string sectionOf(const CommandInfo& command) {
  std::string title = command.name;
  std::transform(title.begin(), title.end(), title.begin(), [](unsigned char c) { return std::toupper(c); });
  std::string out = fmt::format(".SH {}\n", title);
  std::string examples;
  std::vector<std::string> told;
  for (const auto describe : command.describe) {
    const CommandHelp help = describe();
    const Usage usage = usageOf(help);
    out += usage.synopsis + ".PP\n" + usage.text;
    examples += usage.examples;
    for (const po::options_description& group : help.groups) {
      for (const OptionInfo& option : optionsIn(group)) {
        if (!isTold(option.name, told)) out += entryOf(option);
      }
    }
    out += ".PP\n";
  }
  return out + "Examples:\n.PP\n.nf\n" + examples + ".fi\n";
}

}  // namespace

std::string manualPage(const std::vector<CommandInfo>& commands) {
  std::string list;
  std::string sections;
  for (const CommandInfo& command : commands) {
    list += fmt::format(".TP\n\\fBjugendstil {}\\fR\n{}\n", command.name, roff(command.help));
    sections += sectionOf(command);
  }
  std::string page = kManualText;
  const auto put = [&](const std::string& mark, const std::string& text) {
    page.replace(page.find(mark), mark.size(), text);
  };
  put("@COMMANDS@\n", list);
  put("@SECTIONS@\n", sections);
  put("@VERSION@", JUGENDSTIL_VERSION);
  return page;
}

}  // namespace jugendstil::cli
