// SPDX-License-Identifier: Apache-2.0
#include "cli/film_places.h"

#include <fmt/format.h>

#include <filesystem>

#include "base/file.h"
#include "cli/options.h"
#include "clip/clip.h"
#include "film/journal.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

void requireFreeFrames(const std::string& output, const std::string& making, bool force) {
  if (!isFramePattern(output) || hadBegunWriting(workFolderFor(output), making)) return;
  const fs::path start(output.substr(0, output.find('%')));
  const std::string before = start.filename().string();
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folderOf(start), code)) {
    const std::string name = entry.path().filename().string();
    if (entry.is_regular_file() && name.starts_with(before) &&
        name.ends_with(fs::path(output).extension().string()) &&
        name.find_first_of("0123456789", before.size()) == before.size())
      requireFree(entry.path(), force);
  }
}

void requireOwnWork(const std::string& output, const std::string& making, bool force) {
  if (force || !holdsOtherWork(workFolderFor(output), making)) return;
  throw Error(fmt::format(
      "{} holds frames of this name made with other inputs or settings: give those again to go on, "
      "--force to begin anew, or another name",
      workFolderFor(output).string()));
}

std::string saidWithKept(const std::string& output, const char* what) {
  const fs::path work = workFolderFor(output);
  std::error_code code;
  return fs::exists(work / "journal.jsonl", code)
             ? fmt::format("{}; finished frames are kept in {}, the same command goes on from there", what,
                           work.string())
             : std::string(what);
}

std::string frameList(const std::vector<std::int64_t>& numbers) {
  std::string text;
  for (std::size_t i = 0; i < numbers.size() && i < 12; ++i)
    text += fmt::format("{}{}", i == 0 ? "" : ", ", numbers[i]);
  if (numbers.size() > 12) text += ", ...";
  return text;
}

}  // namespace jugendstil::cli
