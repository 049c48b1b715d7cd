// SPDX-License-Identifier: Apache-2.0
#include "dive/path.h"

#include <fmt/format.h>

#include <map>
#include <optional>

#include "base/error.h"
#include "base/toml_reader.h"

namespace jugendstil {
namespace {

class PathReader : TomlReader {
 public:
  PathReader(std::string_view text, const std::filesystem::path& file, DiveSettings& settings)
      : TomlReader(text, file), settings_(settings) {
    for (const SettingInfo& info : diveSettingTable()) {
      if (changesOverTime(info.name)) names_.push_back(info.name);
    }
  }

  std::vector<std::string> take() {
    allow(root(), {"ease", "key"}, "key");
    std::vector<std::string> taken;
    if (const auto* ease = root().get("ease")) {
      set("ease", valueOf(*ease), *ease);
      taken.emplace_back("ease");
    }
    const auto* keys = root().get("key");
    if (keys == nullptr || !keys->is_array_of_tables())
      fail(root().source(),
           "a path has keys: write [[key]], one block each, with at = and what changes there");
    for (const toml::node& key : *keys->as_array()) takeKey(*key.as_table());
    for (const auto& [name, text] : texts_) {
      setDiveSetting(settings_, name, text);
      taken.push_back(name);
    }
    return taken;
  }

 private:
  std::string valueOf(const toml::node& node) const {
    if (node.is_integer()) return std::to_string(**node.as_integer());
    if (node.is_floating_point()) return fmt::format("{}", **node.as_floating_point());
    if (node.is_string()) return **node.as_string();
    fail(node.source(), "this is a number, or text in quotes");
  }

  void set(const std::string& name, const std::string& text, const toml::node& node) {
    try {
      setDiveSetting(settings_, name, text);
    } catch (const UsageError& e) {
      fail(node.source(), e.what());
    }
  }

  void takeKey(const toml::table& table) {
    std::vector<std::string> known = names_;
    known.emplace_back("at");
    allow(table, known, "key");
    const auto* at = table.get("at");
    if (at == nullptr) fail(table.source(), "a key needs at = a frame, or a time like \"2s\"");
    const std::string moment = valueOf(*at);
    requireBehind(moment, *at);
    for (const std::string& name : names_) {
      const auto* node = table.get(name);
      if (node == nullptr) continue;
      const std::string value = valueOf(*node);
      // By itself first, so that what is wrong has its line.
      set(name, value, *node);
      std::string& all = texts_[name];
      all += fmt::format("{}{}={}", all.empty() ? "" : "; ", moment, value);
    }
    if (table.size() < 2) fail(table.source(), "a key says what changes there, like zoom = 1.02");
  }

  // Frames and times are compared with one another once the rate is known.
  void requireBehind(const std::string& text, const toml::node& node) {
    const Moment now = momentIn(text, node);
    if (before_ && before_->isTime == now.isTime &&
        (now.isTime ? now.seconds <= before_->seconds : now.frame <= before_->frame))
      fail(node.source(),
           fmt::format("the key at {} stands behind a later one; keys come in order of time", text));
    before_ = now;
  }

  Moment momentIn(const std::string& text, const toml::node& node) const {
    try {
      return momentOf("at", text);
    } catch (const UsageError& e) {
      fail(node.source(), e.what());
    }
  }

  DiveSettings& settings_;
  std::vector<std::string> names_;
  std::map<std::string, std::string> texts_;
  std::optional<Moment> before_;
};

}  // namespace

std::vector<std::string> takePath(DiveSettings& settings, std::string_view text,
                                  const std::filesystem::path& file) {
  return PathReader(text, file, settings).take();
}

}  // namespace jugendstil
