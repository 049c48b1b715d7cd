#include "film/journal.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <nlohmann/json.hpp>
#include <sstream>

#include "base/atomic_file.h"
#include "base/error.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char* kName = "journal.jsonl";
constexpr std::size_t kMostBytes = std::size_t{1} << 30;

json lineOf(const FrameRecord& r) {
  return {{"frame", r.frame}, {"source", r.source}, {"pass", r.pass},
          {"shot", r.shot},   {"loss", r.loss},     {"steps", r.steps},
          {"tries", r.tries}, {"filled", r.filled}, {"seconds", r.seconds}};
}

FrameRecord recordOf(const json& j) {
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
  return r;
}

// Appends a line and sees it onto the disk: what is recorded must survive a power cut.
void appendLine(const fs::path& file, const std::string& line) {
  const int handle = open(file.c_str(), O_WRONLY | O_APPEND | O_CREAT | O_CLOEXEC, 0644);
  if (handle < 0) throw Error(fmt::format("{} cannot be written: {}", file.string(), std::strerror(errno)));
  const std::string text = line + "\n";
  const bool good =
      write(handle, text.data(), text.size()) == static_cast<ssize_t>(text.size()) && fsync(handle) == 0;
  const int code = errno;
  close(handle);
  if (!good) throw Error(fmt::format("{} cannot be written: {}", file.string(), std::strerror(code)));
}

// A run that was killed while it began its journal leaves the unfinished file; that is nobody else's.
bool holdsOtherThings(const fs::path& folder) {
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with(".journal.") || name.find(".part") == std::string::npos) return true;
  }
  return false;
}

}  // namespace

bool holdsOtherWork(const fs::path& folder, const std::string& making) {
  std::error_code code;
  const fs::path file = folder / kName;
  if (!fs::exists(file, code)) return false;
  std::istringstream lines(readFile(file, kMostBytes));
  std::string line;
  std::getline(lines, line);
  const json head = json::parse(line, nullptr, false);
  return head.is_object() && head.value("making", "") != making;
}

Journal::Journal(fs::path folder, const std::string& making, bool anew, Depth depth)
    : folder_(std::move(folder)), depth_(depth) {
  std::error_code code;
  if (anew) fs::remove_all(folder_, code);
  const fs::path file = folder_ / kName;
  if (fs::exists(file, code)) {
    readLines(making);
    return;
  }
  if (holdsOtherThings(folder_)) {
    throw Error(
        fmt::format("{} is needed for the work, but holds other things; move it away", folder_.string()));
  }
  fs::create_directories(folder_, code);
  if (code) throw Error(fmt::format("the folder {} cannot be made: {}", folder_.string(), code.message()));
  writeFileAtomically(file, json{{"making", making}}.dump() + "\n");
}

void Journal::readLines(const std::string& making) {
  const fs::path file = folder_ / kName;
  std::istringstream lines(readFile(file, kMostBytes));
  std::string line;
  bool head = true;
  std::string whole;  // what of the journal is sound
  bool torn = false;
  while (std::getline(lines, line)) {
    const json j = json::parse(line, nullptr, false);
    // A run that was killed while writing leaves half a line at the end; that frame is made again.
    if (j.is_discarded() || lines.eof()) {
      torn = true;
      break;
    }
    if (head) {
      if (j.value("making", "") != making) {
        throw Error(fmt::format("{} holds frames of the same name made with other inputs or settings",
                                folder_.string()));
      }
      head = false;
    } else {
      const FrameRecord r = recordOf(j);
      (r.pass == 1 ? first_ : second_)[r.frame] = r;
    }
    whole += line + "\n";
  }
  if (head) whole = json{{"making", making}}.dump() + "\n";
  if (torn || head) writeFileAtomically(file, whole);
}

fs::path Journal::pathOf(const char* kind, std::int64_t frame) const {
  return folder_ / fmt::format("{}_{:06}.png", kind, frame);
}

void Journal::store(const char* kind, std::int64_t frame, const Image& picture) const {
  writePicture(pathOf(kind, frame), picture, depth_);
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
  appendLine(folder_ / kName, lineOf(record).dump());
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
