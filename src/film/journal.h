// What of a film is done: a folder beside the result, from which a run that was stopped goes on.
#pragma once

#include <cstdint>
#include <filesystem>
#include <map>
#include <optional>
#include <string>

#include "image/image.h"
#include "image/picture_file.h"

namespace jugendstil {

// What is known of one finished frame.
struct FrameRecord {
  std::int64_t frame = 0;   // its place among the chosen frames
  std::int64_t source = 0;  // its number in the clip
  int pass = 1;
  std::int64_t shot = 0;  // place of the shot's first frame
  double loss = 0;
  int steps = 0;
  int tries = 1;
  bool filled = false;  // made from its neighbours because painting failed or the source is damaged
  double seconds = 0;
};

// The folder has journal.jsonl - a line that tells what is being made, then one a finished frame - and the
// frames as PNG. A frame is recorded only when its picture is safe on the disk.
class Journal {
 public:
  // Opens the folder, or makes it. `making` is text that holds everything the frames depend on; where the
  // folder belongs to another making, Error tells so, unless `anew` empties it.
  Journal(std::filesystem::path folder, const std::string& making, bool anew, Depth depth);

  // Records of a pass by frame.
  const std::map<std::int64_t, FrameRecord>& records(int pass) const { return pass == 1 ? first_ : second_; }

  // The painted frame as it will be read back: pictures are stored first, then recorded. `kind` separates
  // what belongs to one frame ("painted", "final", "mask", "lead").
  std::filesystem::path pathOf(const char* kind, std::int64_t frame) const;
  void store(const char* kind, std::int64_t frame, const Image& picture) const;
  bool has(const char* kind, std::int64_t frame) const;
  Image load(const char* kind, std::int64_t frame) const;
  void drop(const char* kind, std::int64_t frame) const;

  void record(const FrameRecord& record);

  const std::filesystem::path& folder() const { return folder_; }
  // The film is written; the folder goes.
  void remove() const;

 private:
  void readLines(const std::string& making);

  std::filesystem::path folder_;
  Depth depth_;
  std::map<std::int64_t, FrameRecord> first_;
  std::map<std::int64_t, FrameRecord> second_;
};

// Whether a folder has a journal of something else.
bool holdsOtherWork(const std::filesystem::path& folder, const std::string& making);

// out.mkv -> out.mkv.work; frames/shot_%05d.png -> frames/shot_.work
std::filesystem::path workFolderFor(const std::string& output);

}  // namespace jugendstil
