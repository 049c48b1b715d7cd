// SPDX-License-Identifier: Apache-2.0
#include "cli/frame_words.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <filesystem>

#include "base/error.h"
#include "base/file_name.h"
#include "cli/recipe_options.h"
#include "clip/clip.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

FrameInput parseFrameWord(const char* option, const std::string& word, bool numberNeeded) {
  const auto equals = word.find('=');
  if (!numberNeeded && (equals == std::string::npos || fs::exists(word))) return {0, inputNamed(word)};
  std::int64_t frame = -1;
  if (equals != std::string::npos && equals + 1 < word.size()) {
    const auto [end, error] = std::from_chars(word.data(), word.data() + equals, frame);
    if (error != std::errc() || end != word.data() + equals) frame = -1;
  }
  if (frame < 0)
    throw UsageError(fmt::format("--{} is written FRAME=PICTURE, like {}=48=frame_48.png, not \"{}\"", option,
                                 option, word));
  return {frame, inputNamed(word.substr(equals + 1))};
}

}  // namespace jugendstil::cli
