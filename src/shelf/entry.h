// SPDX-License-Identifier: Apache-2.0
// What lies on a shelf.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace jugendstil {

enum class ShelfKind { reference, swatch, mask, look, recipe, painter };

struct ShelfEntry {
  std::int64_t id = 0;
  std::string name;  // by which it is called; unlike all others, whether capital or small
  ShelfKind kind = ShelfKind::reference;
  std::filesystem::path path;  // of the file, absolute
  std::string checksum;
  std::int64_t bytes = 0;
  std::int64_t modified = 0;  // the file's time, nanoseconds
  int width = 0;              // of pictures
  int height = 0;
  std::string note;
  std::int64_t added = 0;  // seconds since 1970
  bool kept = false;       // the file is the shelf's own copy
  std::vector<std::string> tags;
  std::vector<std::string> albums;
};

// "reference", "swatch", "mask", "look", "recipe", "painter".
std::string kindWord(ShelfKind kind);
// Throws UsageError.
ShelfKind kindOfWord(std::string_view word);

// What a file is by its name; none where it is nothing that a shelf holds. A picture is a reference.
std::optional<ShelfKind> kindOfFile(const std::filesystem::path& file);

// Whether it is a picture, with a thumbnail and measures.
bool isPicture(ShelfKind kind);

// The file's name without its endings, of which .look.toml is two; as a name that can be typed: without
// spaces, @, = and what stands for files.
std::string nameForFile(const std::filesystem::path& file);

// Throws UsageError for a name that could be taken for something else: empty, a file's path, TAG:WORD, or
// with a share.
void requireName(std::string_view name);

// Words like "oil, night", or several texts of them, one by one without those that are there already. Throws
// UsageError for a word with characters that divide words elsewhere.
std::vector<std::string> labelWords(const std::vector<std::string>& texts);

// The words of both, those of the first first.
std::vector<std::string> withLabels(std::vector<std::string> words, const std::vector<std::string>& more);

}  // namespace jugendstil
