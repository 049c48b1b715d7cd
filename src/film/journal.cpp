// SPDX-License-Identifier: Apache-2.0
#include "film/journal.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <optional>
#include <sstream>
#include <vector>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "base/utf8.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char* kName = "journal.jsonl";
constexpr const char* kWriting = "writing";
constexpr std::size_t kMostBytes = std::size_t{1} << 30;

json lineOf(const FrameRecord& r) {
  return {{"frame", r.frame}, {"source", r.source}, {"pass", r.pass},
          {"shot", r.shot},   {"loss", r.loss},     {"steps", r.steps},
          {"tries", r.tries}, {"filled", r.filled}, {"seconds", r.seconds}};
}

// Nothing where the line is no record: a run that was killed while writing leaves half of one, a damaged disk
// anything.
std::optional<FrameRecord> recordOf(const std::string& line) {
  try {
    const json j = json::parse(line);
    FrameRecord r;
    r.frame = j.at("frame");
    r.source = j.at("source");
    r.pass = j.at("pass");
    r.shot = j.at("shot");
    r.loss = j.at("loss");
    r.steps = j.at("steps");
    r.tries = j.at("tries");
    r.filled = j.at("filled");
    r.seconds = j.at("seconds");
    if (r.frame < 0 || (r.pass != 1 && r.pass != 2)) return std::nullopt;
    return r;
  } catch (const json::exception&) {
    return std::nullopt;
  }
}

// What the first line says is being made; nothing where it does not say it.
std::optional<std::string> makingOf(const std::string& head) {
  const json j = json::parse(head, nullptr, false);
  if (!j.is_object() || !j.contains("making") || !j["making"].is_string()) return std::nullopt;
  return j["making"].get<std::string>();
}

// The first line of a folder's journal; nothing where there is none, or where it was never finished.
std::optional<std::string> headIn(const fs::path& folder) {
  std::error_code code;
  const fs::path file = folder / kName;
  if (!fs::exists(file, code)) return std::nullopt;
  const std::string text = readFile(file, kMostBytes);
  const auto end = text.find('\n');
  return end == std::string::npos ? std::nullopt : std::optional(text.substr(0, end));
}

// What a run leaves that was killed while it began its journal is nobody else's.
bool holdsOtherThings(const fs::path& folder) {
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    if (!isLeftOver(entry.path(), folder / kName)) return true;
  }
  return false;
}

// All but the folder itself, which is locked.
void removeContent(const fs::path& folder) {
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    fs::remove_all(entry.path(), code);
    if (code)
      throw DiskError(fmt::format("the folder {} cannot be emptied", folder.string()), code.message());
  }
}

}  // namespace

bool holdsOtherWork(const fs::path& folder, const std::string& making) {
  const auto head = headIn(folder);
  return head && makingOf(*head) != utf8Of(making);
}

bool hadBegunWriting(const fs::path& folder, const std::string& making) {
  std::error_code code;
  const auto head = headIn(folder);
  return head && makingOf(*head) == utf8Of(making) && fs::exists(folder / kWriting, code);
}

Journal::Journal(fs::path folder, const std::string& making, bool anew, Depth depth)
    : folder_(std::move(folder)), lock_(folder_), making_(utf8Of(making)), depth_(depth) {
  if (anew) removeContent(folder_);
  if (holdsOtherWork(folder_, making)) {
    throw Error(
        fmt::format("{} holds frames of the same name made with other inputs or settings", folder_.string()));
  }
  if (headIn(folder_)) {
    readLines();
    return;
  }
  std::error_code code;
  if (!fs::exists(folder_ / kName, code) && holdsOtherThings(folder_)) {
    throw Error(
        fmt::format("{} is needed for the work, but holds other things; move it away", folder_.string()));
  }
  writeLines();
}

void Journal::readLines() {
  std::istringstream lines(readFile(folder_ / kName, kMostBytes));
  std::string line;
  std::getline(lines, line);
  bool sound = true;
  while (std::getline(lines, line)) {
    const auto record = recordOf(line);
    // A line without its end may be half a line that looks whole.
    if (record && !lines.eof())
      (record->pass == 1 ? first_ : second_)[record->frame] = *record;
    else
      sound = false;
  }
  if (!sound) writeLines();
}

void Journal::writeLines() const {
  std::string text = json{{"making", making_}}.dump() + "\n";
  for (const auto* pass : {&first_, &second_}) {
    for (const auto& [frame, record] : *pass) text += lineOf(record).dump() + "\n";
  }
  writeFileAtomically(folder_ / kName, text);
}

void Journal::forgetDamaged(const std::function<void(std::int64_t, std::int64_t)>& progress) {
  std::vector<fs::path> pictures;
  for (const auto& entry : fs::directory_iterator(folder_)) {
    if (extensionOf(entry.path()) == ".png") pictures.push_back(entry.path());
  }
  std::sort(pictures.begin(), pictures.end());
  for (std::size_t i = 0; i < pictures.size(); ++i) {
    if (progress) progress(i, pictures.size());
    try {
      readPicture(pictures[i]);
    } catch (const DiskError&) {
      throw;
    } catch (const Error&) {
      fs::remove(pictures[i]);
    }
  }
  // Frames that are still to be filled have no picture after the first pass.
  const std::size_t gone =
      std::erase_if(first_, [&](const auto& r) { return !r.second.filled && !has(kPainted, r.first); }) +
      std::erase_if(second_, [&](const auto& r) { return !has(kAgain, r.first); });
  if (gone > 0) writeLines();
}

void Journal::noteWriting() const { writeFileAtomically(folder_ / kWriting, "\n"); }

fs::path Journal::pathOf(const char* kind, std::int64_t frame) const {
  return folder_ / fmt::format("{}_{:06}.png", kind, frame);
}

void Journal::store(const char* kind, std::int64_t frame, const Image& picture) const {
  writePicture(pathOf(kind, frame), picture, depth_, nullptr, {.quickly = true});
}

bool Journal::has(const char* kind, std::int64_t frame) const {
  std::error_code code;
  return fs::exists(pathOf(kind, frame), code);
}

Image Journal::load(const char* kind, std::int64_t frame) const {
  return readPicture(pathOf(kind, frame)).image;
}

void Journal::drop(const char* kind, std::int64_t frame) const {
  std::error_code code;
  fs::remove(pathOf(kind, frame), code);
}

void Journal::record(const FrameRecord& record) {
  // What is recorded must survive a power cut.
  File file(folder_ / kName, File::Mode::append);
  file.write(lineOf(record).dump() + "\n");
  file.sync();
  file.close();
  (record.pass == 1 ? first_ : second_)[record.frame] = record;
}

void Journal::remove() const {
  std::error_code code;
  fs::remove_all(folder_, code);
}

fs::path workFolderFor(const std::string& output) {
  const auto percent = output.find('%');
  fs::path base = percent == std::string::npos ? fs::path(output) : fs::path(output.substr(0, percent));
  if (!base.has_filename() || base.filename() == ".") base /= "frames";
  return base += ".work";
}

}  // namespace jugendstil
