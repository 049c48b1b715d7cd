// SPDX-License-Identifier: Apache-2.0
#include "cli/help.h"

#include <fmt/format.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <cstdlib>
#include <sstream>

#include "cli/say.h"

namespace jugendstil::cli {
namespace {

constexpr unsigned kNarrowest = 40;
constexpr unsigned kWidest = 100;  // longer lines are hard to read

// Of the terminal; what COLUMNS says goes first.
unsigned helpWidth() {
  unsigned width = 0;
  if (const char* columns = std::getenv("COLUMNS")) {
    const std::string_view text = columns;
    std::from_chars(text.data(), text.data() + text.size(), width);
  }
  winsize size{};
  if (width == 0 && ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0) width = size.ws_col;
  return width == 0 ? kWidest : std::clamp(width, kNarrowest, kWidest);
}

// Breaks lines between words, or behind a bar where a word is too long; what goes on stands a little further
// in.
std::string wrapped(std::string_view text, std::size_t width) {
  std::istringstream lines{std::string(text)};
  std::string out;
  for (std::string line; std::getline(lines, line);) {
    const std::size_t indent = std::min(line.find_first_not_of(' '), line.size());
    while (line.size() > width) {
      std::size_t end = line.rfind(' ', width);
      if (end == std::string::npos || end <= indent + 4) end = line.rfind('|', width - 1);
      if (end == std::string::npos || end <= indent + 4) break;
      out += line.substr(0, end + 1) + "\n";
      line = std::string(indent > 0 ? indent + 4 : 0, ' ') + line.substr(end + 1);
    }
    out += line + "\n";
  }
  for (std::size_t at = 0; (at = out.find(" \n", at)) != std::string::npos;) {
    const std::size_t begin = out.find_last_not_of(' ', at) + 1;
    out.erase(begin, at + 1 - begin);
    at = begin;
  }
  return out;
}

// Where explanations begin: behind the first name that leaves room before its own.
std::size_t explanationColumn(const std::string& options) {
  std::istringstream lines(options);
  for (std::string line; std::getline(lines, line);) {
    const std::size_t gap = line.starts_with("  -") ? line.find("  ", 2) : std::string::npos;
    if (gap != std::string::npos) return std::min(line.find_first_not_of(' ', gap), line.size());
  }
  return 0;
}

void replaceIn(std::string& text, const std::string& from, const std::string& to) {
  const std::size_t found = text.find(from);
  if (found != std::string::npos) text.replace(found, from.size(), to);
}

// The library's "-o [ --output ] OUT" as "-o, --output OUT", and "--finish [=yes|no]" in one word;
// explanations stay in their column.
std::string asWritten(const std::string& options) {
  const std::size_t column = explanationColumn(options);
  std::istringstream lines(options);
  std::string out;
  for (std::string line; std::getline(lines, line);) {
    // A name that is too long for its column stands on a line by itself.
    const bool explained = column > 0 && line.size() > column && line[column - 1] == ' ';
    const std::size_t width = explained ? column : line.size();
    std::string name = line.substr(0, width);
    if (name.find(" [ --") == 4) {
      replaceIn(name, " ]", "");
      replaceIn(name, " [ --", ", --");
    }
    if (name.starts_with("  --")) replaceIn(name, " [=", "[=");
    if (explained) name.resize(width, ' ');
    out += name + line.substr(width) + "\n";
  }
  return out;
}

std::string namesOf(const po::options_description& options) {
  std::string text = "Options:";
  for (const auto& option : options.options()) {
    if (option->long_name().size() > 1) text += " --" + option->long_name();
  }
  return text;
}

}  // namespace

po::options_description optionGroup(const std::string& heading) {
  const unsigned width = helpWidth();
  return po::options_description(heading, width, width * 6 / 10);
}

void addHelpOptions(po::options_description& options) {
  options.add_options()("help", "this text")(",h", "a short one");
}

po::options_description CommandHelp::options() const {
  const unsigned width = helpWidth();
  po::options_description all(width, width * 6 / 10);
  for (const po::options_description& group : groups) all.add(group);
  return all;
}

bool sayHelpIfAsked(const po::variables_map& given, const CommandHelp& help) {
  const unsigned width = helpWidth();
  if (given.count("help") != 0) {
    std::string text;
    for (const po::options_description& group : help.groups) {
      std::ostringstream lines;
      lines << group;
      text += "\n" + asWritten(lines.str());
    }
    sayText(stdout, wrapped(help.usage + text, width));
    return true;
  }
  if (given.count("-h") == 0) return false;
  sayText(stdout,
          wrapped(fmt::format("{}\n{}\n--help says what each does.", help.usage, namesOf(help.options())),
                  width));
  return true;
}

}  // namespace jugendstil::cli
