// Frames through a pipe, kept as a file while the film is made.
#pragma once

#include <filesystem>
#include <string>

namespace jugendstil {

// For "-", standard input is copied to a file beside the work folder, so that shots can be looked at before
// they are graded and frames gone back to; the file goes with the object. Any other name is left as it is.
class SpooledClip {
 public:
  // Throws Error: not YUV4MPEG2, nothing came, disk full.
  SpooledClip(const std::string& name, const std::filesystem::path& workFolder);
  ~SpooledClip();
  SpooledClip(const SpooledClip&) = delete;
  SpooledClip& operator=(const SpooledClip&) = delete;

  const std::string& name() const { return name_; }

 private:
  std::string name_;
  std::filesystem::path file_;
};

}  // namespace jugendstil
