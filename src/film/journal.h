// SPDX-License-Identifier: Apache-2.0
// What of a film is done: a folder beside the result, from which a run that was stopped goes on.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <string>

#include "base/folder_lock.h"
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

// The kinds of pictures that are kept of a frame.
inline constexpr const char* kPainted = "painted";  // after the first pass
inline constexpr const char* kAgain = "again";      // after the second
inline constexpr const char* kCanvas = "canvas";    // with its margin; of the latest frames only
inline constexpr const char* kLead = "lead";        // carried back from a key, trust as alpha
inline constexpr const char* kMask = "mask";        // carried back from the first mask

// The folder has journal.jsonl - a line that tells what is being made, then one a finished frame - and the
// frames as PNG. A frame is recorded only when its picture is safe on the disk. While a journal is open no
// other run can open it; a program that dies leaves it free.
class Journal {
 public:
  // Opens the folder, or makes it. `making` is text (any bytes) that holds everything the frames depend on;
  // where the folder belongs to another making, Error tells so, unless `anew` empties it. Lines that are no
  // records are passed over. Throws Error where another run is at work in the folder, DiskError.
  Journal(std::filesystem::path folder, const std::string& making, bool anew, Depth depth);

  // Records of a pass by frame.
  const std::map<std::int64_t, FrameRecord>& records(int pass) const { return pass == 1 ? first_ : second_; }

  // Looks at all pictures that an earlier run left, takes away those that are damaged, and forgets the
  // records of frames whose picture is not there: they are made again. `progress` is told how many were
  // looked at, of how many.
  void forgetDamaged(const std::function<void(std::int64_t, std::int64_t)>& progress);

  // A frame's picture as it will be read back: it is stored first, then recorded. `kind` is one of those
  // above. store() and load() throw DiskError, load() also Error where the picture is missing or damaged.
  std::filesystem::path pathOf(const char* kind, std::int64_t frame) const;
  void store(const char* kind, std::int64_t frame, const Image& picture) const;
  bool has(const char* kind, std::int64_t frame) const;
  Image load(const char* kind, std::int64_t frame) const;
  void drop(const char* kind, std::int64_t frame) const;

  void record(const FrameRecord& record);

  // From now on frames are written under their final names; what lies there after a stop is this film's.
  void noteWriting() const;

  const std::filesystem::path& folder() const { return folder_; }
  // The film is written; the folder goes.
  void remove() const;

 private:
  void readLines();
  void writeLines() const;

  std::filesystem::path folder_;
  FolderLock lock_;
  std::string making_;
  Depth depth_;
  std::map<std::int64_t, FrameRecord> first_;
  std::map<std::int64_t, FrameRecord> second_;
};

// Whether a folder has a journal of something else.
bool holdsOtherWork(const std::filesystem::path& folder, const std::string& making);

// Whether a folder has a journal of this making that had come to write its frames (Journal::noteWriting).
bool hadBegunWriting(const std::filesystem::path& folder, const std::string& making);

// out.mkv -> out.mkv.work; frames/shot_%05d.png -> frames/shot_.work
std::filesystem::path workFolderFor(const std::string& output);

}  // namespace jugendstil
