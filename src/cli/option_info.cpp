// SPDX-License-Identifier: Apache-2.0
#include "cli/option_info.h"

#include <fmt/format.h>

#include <algorithm>

#include "amplify/settings.h"
#include "base/words.h"
#include "dive/settings.h"
#include "film/settings.h"
#include "grade/settings.h"
#include "image/blend.h"
#include "paint/settings.h"
#include "weave/settings.h"

namespace jugendstil::cli {
namespace {

using Words = std::vector<std::string>;

const Words kPictures{"png", "jpg", "jpeg", "tif", "tiff", "webp", "exr"};
const Words kMasks{"png", "jpg", "jpeg", "tif", "tiff", "webp", "exr", "svg"};
const Words kClips{"mkv", "mp4", "mov", "webm", "avi", "y4m"};
const Words kLooks{"toml", "cube", "clf", "png"};

bool isWord(const std::string& text) {
  return !text.empty() && std::none_of(text.begin(), text.end(), [](char c) { return c >= 'A' && c <= 'Z'; });
}

Words together(Words a, const Words& b) {
  a.insert(a.end(), b.begin(), b.end());
  return a;
}

// "likeness=" and the like: of every command, or only what a table of paintings can vary.
Words settingNames(bool every) {
  Words names;
  std::vector<const std::vector<SettingInfo>*> tables{&paintSettingTable()};
  if (every)
    tables = {&paintSettingTable(), &filmSettingTable(),    &gradeSettingTable(),
              &weaveSettingTable(), &amplifySettingTable(), &diveSettingTable()};
  for (const auto* table : tables) {
    for (const SettingInfo& info : *table) {
      if (std::find(names.begin(), names.end(), info.name + "=") == names.end())
        names.push_back(info.name + "=");
    }
  }
  return names;
}

// By what stands for the value in help.
void classify(OptionInfo& option) {
  const std::string& value = option.value;
  const auto is = [&](ValueKind kind, Words extensions = {}) {
    option.kind = kind;
    option.extensions = std::move(extensions);
  };
  const auto holds = [&](const char* part) { return value.find(part) != std::string::npos; };
  if (value.empty()) return is(ValueKind::none);
  if (value == "[=yes|no]") return is(ValueKind::yesNo);
  if (value == "MODE") option.words = blendModeNames();
  if (value == "tone,colour,detail") option.words = splitAt(value, ',');
  if (value.starts_with("SETTING=")) option.words = settingNames(value == "SETTING=VALUE");
  if (!option.words.empty()) return is(ValueKind::words);
  if (holds("|") && !holds(" ")) {
    for (const std::string& word : splitAt(value, '|')) {
      if (isWord(word)) option.words.push_back(word);
    }
    if (!option.words.empty()) return is(ValueKind::words, holds("|FILE") ? kPictures : Words{});
  }
  if (value == "RECIPE") return is(ValueKind::file, {"toml"});
  if (holds("PAINTER")) return is(ValueKind::file, {"onnx"});
  if (value == "LOOK") return is(ValueKind::file, kLooks);
  if (value == "DIR") return is(ValueKind::folder);
  if (value == "CLIP") return is(ValueKind::file, kClips);
  if (value == "A B...") return is(ValueKind::file, together(kPictures, kClips));
  if (value.starts_with("FILE.")) return is(ValueKind::file, {value.substr(value.rfind('.') + 1)});
  if (value.starts_with("FILES") || value.starts_with("OUT") || holds("=MASK") || holds("]MASK") ||
      holds("MASK=") || holds("=PICTURE"))
    return is(ValueKind::file);
  if (holds("MASK") || value == "MAP") return is(ValueKind::file, kMasks);
  if (holds("PHOTO") || holds("REF") || holds("SWATCH") || value == "START" || value == "LAYOUT")
    return is(ValueKind::file, kPictures);
  is(ValueKind::other);
}

}  // namespace

std::vector<OptionInfo> optionsIn(const po::options_description& group) {
  std::vector<OptionInfo> all;
  for (const auto& option : group.options()) {
    OptionInfo info;
    info.name = option->long_name();
    if (info.name.empty() || info.name[0] == '-' || info.name == "help") continue;
    const std::string shown = option->canonical_display_name(po::command_line_style::allow_dash_for_short);
    if (shown.size() == 2 && shown[0] == '-') info.letter = shown[1];
    // Flags have no name for a value.
    if (option->semantic()->max_tokens() > 0) info.value = option->format_parameter();
    info.help = option->description();
    info.plain = !info.value.empty() && info.help.find("plain word") != std::string::npos;
    classify(info);
    all.push_back(std::move(info));
  }
  return all;
}

std::vector<OptionInfo> optionsOf(const CommandInfo& command) {
  std::vector<OptionInfo> all;
  for (const auto describe : command.describe) {
    for (const po::options_description& group : describe().groups) {
      for (OptionInfo& option : optionsIn(group)) {
        const auto same = [&](const OptionInfo& known) { return known.name == option.name; };
        if (std::none_of(all.begin(), all.end(), same)) all.push_back(std::move(option));
      }
    }
  }
  all.push_back({"help", 0, "", "what each option does", false, ValueKind::none, {}, {}});
  return all;
}

}  // namespace jugendstil::cli
