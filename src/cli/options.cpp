// SPDX-License-Identifier: Apache-2.0
#include "cli/options.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <sstream>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"
#include "base/words.h"
#include "cli/say.h"
#include "cli/shelf_names.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

namespace {

bool isSwitch(const po::option_description& option) {
  return option.semantic()->min_tokens() == 0 && option.semantic()->max_tokens() == 1;
}

// Options may be spelled in American, too.
std::string inOurSpelling(const std::string& word) {
  return word.starts_with("--color") ? "--colour" + word.substr(7) : word;
}

// A switch named alone would take the next word for its value; here it gets its own.
Words withSwitchValues(Words words, const po::options_description& options) {
  for (std::size_t i = 0; i < words.size() && words[i] != "--"; ++i) {
    words[i] = inOurSpelling(words[i]);
    const auto is = [&](const auto& option) {
      return isSwitch(*option) && words[i] == "--" + option->long_name();
    };
    if (std::none_of(options.options().begin(), options.options().end(), is)) continue;
    const std::string next = i + 1 < words.size() ? words[i + 1] : "";
    std::error_code code;
    if (isYesOrNo(next) && !fs::exists(next, code))
      throw UsageError(fmt::format("{0} takes its value behind \"=\": {0}={1}", words[i], next));
    words[i] += "=yes";
  }
  return words;
}

}  // namespace

po::options_description settingOptions(const std::string& heading, const std::vector<SettingInfo>& settings) {
  auto options = optionGroup(heading);
  for (const SettingInfo& info : settings) {
    const po::value_semantic* value = info.value == "yes|no" ? switchValue() : textValue(info.value);
    options.add_options()(info.name.c_str(), value, info.help.c_str());
  }
  return options;
}

const po::value_semantic* textValue(const std::string& name) {
  return po::value<std::string>()->value_name(name);
}

const po::value_semantic* textsValue(const std::string& name) {
  return po::value<std::vector<std::string>>()->value_name(name);
}

const po::value_semantic* wordsValue(const std::string& name) {
  return po::value<std::vector<std::string>>()->multitoken()->value_name(name);
}

const po::value_semantic* switchValue() {
  return po::value<std::string>()->value_name("[=yes|no]")->implicit_value("yes", "");
}

bool switchOf(const po::variables_map& given, const char* name) {
  return given.count(name) != 0 && yesNoSetting(fmt::format("--{}", name), textOf(given, name));
}

void applyGiven(const po::variables_map& given, const std::vector<SettingInfo>& settings,
                const std::function<void(const std::string& name, const std::string& text)>& set) {
  for (const SettingInfo& info : settings) {
    if (given.count(info.name) == 0) continue;
    try {
      set(info.name, textOf(given, info.name.c_str()));
    } catch (const UsageError& e) {
      throw UsageError(fmt::format("--{}", e.what()));
    }
  }
}

po::options_description reportOptions() {
  auto options = optionGroup("Running");
  options.add_options()("force,f", "replace files that exist")(
      "dry-run", "say what would be done, how long it takes and how much memory, and stop")(
      "quiet,q", "no progress, only the result or the error")("progress", textValue("auto|bar|lines|json"),
                                                              "how progress is shown (auto)");
  addHelpOptions(options);
  return options;
}

namespace {

// Plain words for what is called otherwise here.
constexpr std::pair<std::string_view, std::string_view> kMeanings[] = {
    {"reference", "after"},  {"references", "after"},   {"style", "after"},     {"content", "photo"},
    {"input", "photo"},      {"size", "long-edge"},     {"width", "long-edge"}, {"resolution", "long-edge"},
    {"iterations", "steps"}, {"mask", "inside"},        {"out", "output"},      {"overwrite", "force"},
    {"strength", "amount"},  {"silent", "quiet"},       {"preview", "proof"},   {"draft", "proof"},
    {"preset", "recipe"},    {"background", "outside"},
};

// The option of that meaning, or one that is hardly spelled otherwise.
std::string optionMeant(const std::string& unknown, const po::options_description& options) {
  const auto has = [&](std::string_view name) {
    return options.find_nothrow(std::string(name), false) != nullptr;
  };
  const std::string name = unknown.substr(std::min(unknown.find_first_not_of('-'), unknown.size()));
  for (const auto& [theirs, ours] : kMeanings) {
    if (name == theirs && has(ours)) return fmt::format("--{}", ours);
  }
  std::vector<std::string> known;
  for (const auto& option : options.options()) known.push_back(option->long_name());
  const std::string near = nearestWord(name, known, name.size() / 4 + 1);
  return near.empty() ? "" : "--" + near;
}

}  // namespace

po::variables_map parseWords(const Words& words, const po::options_description& options,
                             const po::positional_options_description& positions,
                             const std::string& command) {
  // Guessing abbreviations would let a typo pass for something else.
  const int style = po::command_line_style::unix_style ^ po::command_line_style::allow_guessing;
  po::variables_map given;
  try {
    const Words whole = withSwitchValues(words, options);
    po::store(po::command_line_parser(whole).options(options).positional(positions).style(style).run(),
              given);
  } catch (const po::unknown_option& e) {
    const std::string near = optionMeant(e.get_option_name(), options);
    throw UsageError(fmt::format("{} has no option {}{}; see jugendstil {} --help", command,
                                 e.get_option_name(),
                                 near.empty() ? "" : fmt::format(", did you mean {}?", near), command));
  } catch (const po::multiple_occurrences& e) {
    throw UsageError(fmt::format("{} is given twice; once is right", e.get_option_name()));
  } catch (const po::invalid_command_line_syntax& e) {
    if (e.kind() == po::invalid_syntax::extra_parameter)
      throw UsageError(fmt::format("{} takes no value; name it alone", e.get_option_name()));
    throw UsageError(fmt::format("{} needs a value; see jugendstil {} --help", e.get_option_name(), command));
  } catch (const po::too_many_positional_options_error&) {
    throw UsageError(
        fmt::format("{} takes one input; put each further word behind its option (see jugendstil {} --help)",
                    command, command));
  } catch (const po::error&) {
    throw UsageError(fmt::format("this cannot be understood; see jugendstil {} --help", command));
  }
  takeShelfNames(given, options, command);
  return given;
}

const po::value_semantic* referencesValue() { return wordsValue("REF[@SHARE]..."); }

void requirePhoto(const po::variables_map& given, const std::string& usage) {
  if (given.count("photo") != 0) return;
  const auto after = listOf(given, "after");
  if (after.size() < 2) throw UsageError(usage);
  throw UsageError(
      fmt::format("{}; all words behind --after ({}) were taken as references, so put photos before it",
                  usage.substr(0, usage.find(':')), fmt::join(after, ", ")));
}

ReferenceWord parseReference(const std::string& word, const char* option) {
  const auto at = word.rfind('@');
  if (at == std::string::npos || at == 0 || fs::exists(word)) return {word, 1};
  const std::string number = word.substr(at + 1);
  double share = 0;
  const auto [end, error] = std::from_chars(number.data(), number.data() + number.size(), share);
  if (error != std::errc() || end != number.data() + number.size() || !(share > 0) || !std::isfinite(share)) {
    throw UsageError(fmt::format("{} {}: the share behind @ is a number above 0, like @3", option, word));
  }
  return {word.substr(0, at), share};
}

std::vector<double> numbersIn(std::string_view text, std::string_view between) {
  std::vector<double> numbers;
  for (;;) {
    const auto end = text.find(between);
    const std::string_view part = text.substr(0, end);
    double value = 0;
    const auto [stop, error] = std::from_chars(part.data(), part.data() + part.size(), value);
    if (error != std::errc() || stop != part.data() + part.size()) return {};
    numbers.push_back(value);
    if (end == std::string_view::npos) return numbers;
    text.remove_prefix(end + between.size());
  }
}

MaskBox parseBox(const std::string& option, const std::string& text) {
  const auto n = numbersIn(text, ",");
  if (n.size() != 4)
    throw UsageError(fmt::format("{} is four numbers X,Y,WIDTH,HEIGHT in pixels, not \"{}\"", option, text));
  return {n[0], n[1], n[2], n[3]};
}

std::optional<std::array<float, 3>> colourOfHex(std::string hex) {
  if (hex.size() == 4) hex = {hex[0], hex[1], hex[1], hex[2], hex[2], hex[3], hex[3]};
  if (hex.size() != 7 || hex[0] != '#') return std::nullopt;
  unsigned value = 0;
  const auto [end, error] = std::from_chars(hex.data() + 1, hex.data() + hex.size(), value, 16);
  if (error != std::errc() || end != hex.data() + hex.size()) return std::nullopt;
  const auto part = [&](unsigned shift) { return static_cast<float>(value >> shift & 255U) / 255.0F; };
  return std::array<float, 3>{part(16), part(8), part(0)};
}

std::string textOf(const po::variables_map& given, const char* name, const std::string& otherwise) {
  return given.count(name) != 0 ? given[name].as<std::string>() : otherwise;
}

std::vector<std::string> listOf(const po::variables_map& given, const char* name) {
  return given.count(name) != 0 ? given[name].as<std::vector<std::string>>() : std::vector<std::string>{};
}

double numberOf(const po::variables_map& given, const char* name, double usual, double most) {
  if (given.count(name) == 0) return usual;
  return numberSetting(fmt::format("--{}", name), given[name].as<std::string>(), 0, most);
}

void requireFree(const fs::path& path, bool force) {
  std::error_code code;
  if (!force && fs::exists(path, code)) {
    throw Error(fmt::format("{} exists already; add --force to replace it, or choose another name with -o",
                            path.string()));
  }
}

fs::path stillFree(const fs::path& name) {
  std::error_code code;
  fs::path free = name;
  for (int i = 2; fs::exists(free, code); ++i)
    free.replace_filename(fmt::format("{}-{}{}", name.stem().string(), i, name.extension().string()));
  if (free != name)
    say(stderr, "note: another program has made {} in the meantime; the result goes to {}\n", name.string(),
        free.string());
  return free;
}

bool meansFolder(const std::string& output) {
  std::error_code code;
  return output.ends_with('/') || fs::is_directory(output, code);
}

fs::path outputFor(const std::string& output, const fs::path& name) {
  return meansFolder(output) ? fs::path(output) / name : fs::path(output);
}

void makeFolderFor(const fs::path& output) {
  if (output.parent_path().empty()) return;
  std::error_code code;
  fs::create_directories(output.parent_path(), code);
  if (code)
    throw Error(fmt::format("cannot make the folder {}: {}", output.parent_path().string(), code.message()));
}

void requirePlace(const fs::path& output, bool makesFolder) {
  fs::path folder = folderOf(output);
  std::error_code code;
  while (makesFolder && !fs::exists(folder, code) && folder != folderOf(folder)) folder = folderOf(folder);
  const AtomicFile probe(folder / output.filename());
}

void requireOther(const fs::path& output, const fs::path& photo) {
  std::error_code code;
  if (fs::equivalent(output, photo, code))
    throw UsageError(
        fmt::format("{} would replace the photo it is made from; choose another name or folder with -o",
                    output.string()));
}

fs::path shareFolder() {
  std::error_code code;
  const fs::path program = fs::read_symlink("/proc/self/exe", code);
  const fs::path candidates[] = {program.parent_path().parent_path() / "share" / "jugendstil",
                                 JUGENDSTIL_SHARE_INSTALLED, JUGENDSTIL_SHARE_SOURCE};
  for (const fs::path& folder : candidates) {
    if (fs::exists(folder / "networks" / "filigree.onnx", code)) return folder;
  }
  throw Error(
      "the feature network networks/filigree.onnx is missing from this installation; install it again");
}

fs::path shippedGeneralPainter() { return shareFolder() / "networks" / "general.onnx"; }

fs::path shippedNetwork() { return shareFolder() / "networks" / "filigree.onnx"; }

}  // namespace jugendstil::cli
