// SPDX-License-Identifier: Apache-2.0
#include "learn/quick_painter.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>

#include "base/base64.h"
#include "base/error.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "learn/painter_file.h"
#include "paint/frame.h"

namespace jugendstil {
namespace {

using Notes = std::map<std::string, std::string>;

constexpr int kLongestReference = 1536;
constexpr int kMostReferences = 64;

const char* const kLicence =
    "The references are in this file as pictures. Whoever passes it on needs the right to pass those on.";

std::string key(const char* what, std::size_t i) {
  return fmt::format("jugendstil.reference_{}.{}", i + 1, what);
}

std::string keyOf(const SettingInfo& setting) { return fmt::format("jugendstil.{}", setting.name); }

Image kept(const PaintReference& reference, double trim) {
  Image whole = trimmed(reference.image, trim);
  const int edge = std::max(whole.width, whole.height);
  if (edge <= kLongestReference) return whole;
  const Size size = sizeForLongEdge(whole.width, whole.height, kLongestReference);
  return resizePhoto(whole, size.width, size.height);
}

Notes notesOf(const QuickPainter& painter, const std::string& recipe) {
  Notes notes{{"producer", fmt::format("jugendstil {}", JUGENDSTIL_VERSION)},
              {"licence", kLicence},
              {"jugendstil.recipe", recipe},
              {"jugendstil.references", std::to_string(painter.references.size())}};
  LearnSettings settings = painter.settings;
  settings.painting.trim = 0;  // has been done
  for (const SettingInfo& info : learnSettingTable()) {
    if (isLearned(info.name) || info.name == "long-edge")
      notes[keyOf(info)] = learnSettingText(settings, info.name);
  }
  for (std::size_t i = 0; i < painter.references.size(); ++i) {
    notes[key("share", i)] = fmt::format("{}", painter.references[i].share);
    notes[key("png", i)] =
        base64Of(encodedPng(kept(painter.references[i], painter.settings.painting.trim), Depth::eight));
  }
  return notes;
}

double numberIn(const std::string& text) {
  double value = -1;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  return error == std::errc() && end == text.data() + text.size() ? value : -1;
}

std::vector<PaintReference> referencesIn(const Notes& notes) {
  const auto found = notes.find("jugendstil.references");
  if (found == notes.end()) return {};
  const double count = numberIn(found->second);
  if (!(count >= 0 && count <= kMostReferences)) throw Error("the number of its references is damaged");
  std::vector<PaintReference> references;
  for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i) {
    const auto png = notes.find(key("png", i));
    const auto share = notes.find(key("share", i));
    if (png == notes.end() || share == notes.end())
      throw Error(fmt::format("reference {} is missing", i + 1));
    references.push_back({rgbOf(decodedPng(bytesOfBase64(png->second))), numberIn(share->second)});
    if (!(references.back().share > 0))
      throw Error(fmt::format("the share of reference {} is damaged", i + 1));
  }
  return references;
}

}  // namespace

void writeQuickPainter(const std::filesystem::path& path, const QuickPainter& painter,
                       const std::string& recipe) {
  Painter file{painter.net, notesOf(painter, recipe)};
  setColours(file.net, painter.colours);
  writePainter(path, file);
}

QuickPainter readQuickPainter(const std::filesystem::path& path) {
  Painter file = readPainter(path);
  QuickPainter painter;
  painter.net = std::move(file.net);
  try {
    painter.references = referencesIn(file.notes);
    for (const SettingInfo& info : learnSettingTable()) {
      const auto found = file.notes.find(keyOf(info));
      if (found != file.notes.end()) setLearnSetting(painter.settings, info.name, found->second);
    }
  } catch (const Error& e) {
    throw Error(fmt::format("{}: {}; learn it again", path.string(), e.what()));
  }
  // Its first layer is the colours, as painterNet() has it.
  if (!painter.references.empty()) {
    painter.colours = coloursOf(painter.net);
    setColours(painter.net, kOwnColours);
  }
  return painter;
}

}  // namespace jugendstil
