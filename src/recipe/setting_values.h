// SPDX-License-Identifier: Apache-2.0
// Reading and writing the values of settings as text. All throw UsageError that names the setting, what was
// given and what is right.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace jugendstil {

struct SettingInfo {
  std::string name;   // as on the command line and in recipes
  std::string value;  // what stands for its value in help
  std::string help;
  bool number = false;  // written without quotes in a recipe
};

// One setting of a struct of them: how it is explained, read and written.
template <typename S>
struct SettingEntry {
  SettingInfo info;
  void (*set)(S&, std::string_view);
  std::string (*text)(const S&);
};

// Throws UsageError that offers the nearest of the known names.
[[noreturn]] void refuseName(std::string_view name, const std::vector<std::string>& known);

template <typename S>
const SettingEntry<S>& settingNamed(const std::vector<SettingEntry<S>>& table, std::string_view name) {
  std::vector<std::string> known;
  for (const SettingEntry<S>& e : table) {
    if (e.info.name == name) return e;
    known.push_back(e.info.name);
  }
  refuseName(name, known);
}

template <typename S>
std::vector<SettingInfo> settingInfos(const std::vector<SettingEntry<S>>& table) {
  std::vector<SettingInfo> infos;
  for (const SettingEntry<S>& e : table) infos.push_back(e.info);
  return infos;
}

// A setting as it stands somewhere.
struct SettingText {
  SettingInfo info;
  std::string text;
  bool usual = true;  // as it is where nothing is said
};

// All of a struct of settings; `textOf` gives one by its name, as paintSettingText does.
template <typename S>
std::vector<SettingText> settingTexts(const std::vector<SettingInfo>& table, const S& settings,
                                      std::string (*textOf)(const S&, std::string_view)) {
  std::vector<SettingText> texts;
  const S usual;
  for (const SettingInfo& info : table) {
    std::string text = textOf(settings, info.name);
    const bool same = text == textOf(usual, info.name);
    texts.push_back({info, std::move(text), same});
  }
  return texts;
}

// Those that are not as usual, like "likeness 20", but for threads.
std::vector<std::string> unusualOf(const std::vector<SettingText>& settings);

double numberSetting(std::string_view name, std::string_view text, double least, double most);
// A share up to `most`, at most 1: 0.7, 70 and 70% are the same; 1 is the whole, and 1.5 is refused as a
// slip.
double shareSetting(std::string_view name, std::string_view text, double most = 1);
// How much is cut from each side of a reference, up to 0.45; "auto", a frame found by itself, is negative.
double trimSetting(std::string_view text);
std::string trimText(double trim);
int wholeSetting(std::string_view name, std::string_view text, int least, int most);
// From 0; for seeds and the like, which do not fit into an int.
std::uint64_t largeSetting(std::string_view name, std::string_view text, std::uint64_t most);

// "auto" is 0.
int wholeOrAutoSetting(std::string_view name, std::string_view text, int least, int most);
std::string autoOr(int value);

template <typename T>
using Choices = std::vector<std::pair<std::string, T>>;

// "reference or photo", for messages.
[[noreturn]] void refuseWord(std::string_view name, std::string_view text,
                             const std::vector<std::string>& known);

template <typename T>
T choiceSetting(std::string_view name, std::string_view text, const Choices<T>& options) {
  std::vector<std::string> known;
  for (const auto& [word, value] : options) {
    if (word == text) return value;
    known.push_back(word);
  }
  refuseWord(name, text, known);
}

// yes or no; on, off, true and false are understood as well.
bool isYesOrNo(std::string_view text);
bool yesNoSetting(std::string_view name, std::string_view text);
std::string yesNo(bool value);

template <typename T>
std::string wordOf(T value, const Choices<T>& options) {
  for (const auto& [word, v] : options) {
    if (v == value) return word;
  }
  return {};
}

}  // namespace jugendstil
