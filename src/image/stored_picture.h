// SPDX-License-Identifier: Apache-2.0
// Pictures kept in memory as their file stores them, and worked on in strips, so that a hundred megapixels
// fit.
#pragma once

#include <cstddef>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "image/icc.h"
#include "image/image.h"
#include "image/metadata_blocks.h"
#include "image/picture_file.h"

namespace jugendstil {

// Pixels stand in the file's own type, orientation and colour profile.
class StoredPicture {
 public:
  // Throws what readPicture throws.
  static StoredPicture read(const std::filesystem::path& path);

  // A picture that no file stands behind: display-encoded sRGB, RGB or RGBA, kept as floats.
  static StoredPicture of(const Image& image);

  // No pixels at all, only what a StripWriter asks: an RGB picture of this size and depth without metadata.
  static StoredPicture like(int width, int height, Depth depth);

  int width() const { return width_; }
  int height() const { return height_; }
  // 3, or 4 with alpha: what rows() gives. Grey comes as RGB.
  int channels() const { return stored_ == 2 || stored_ == 4 ? 4 : 3; }
  Depth depth() const { return depth_; }
  int orientation() const { return orientation_; }
  const std::string& icc() const { return icc_; }
  const MetadataBlocks& blocks() const { return blocks_; }
  const std::shared_ptr<const Metadata>& metadata() const { return metadata_; }

  // Rows [begin, begin + count) as display-encoded sRGB, converted by the profile; colours outside sRGB and
  // above white land outside [0, 1].
  Image rows(int begin, int count) const;

  // Turned as its orientation asks, in sRGB and floats; needs the memory of a whole picture.
  StoredPicture upright() const;

  // Gives the pixels' memory back; rows() must not be called after.
  void release() { bytes_ = {}; }

 private:
  void fillRow(int y, float* to) const;

  int width_ = 0;
  int height_ = 0;
  int stored_ = 3;  // channels in the file
  Depth depth_ = Depth::eight;
  bool linear_ = false;
  int orientation_ = 1;
  int type_ = 0;  // OIIO base type
  std::vector<std::byte> bytes_;
  std::string icc_;
  std::shared_ptr<const ProfilePair> profile_;
  MetadataBlocks blocks_;
  std::shared_ptr<const Metadata> metadata_;
};

// Whether a copy under this name can say how it is to be turned; where not, upright() must be written.
bool carriesOrientation(const std::filesystem::path& path, const StoredPicture& picture);

enum class ProfileChoice { keep, srgb };

// Writes a graded copy of a stored picture, strip by strip from the top. Everything but the pixels is the
// original's: its orientation, its EXIF and XMP (byte for byte between JPEG and PNG), its profile where that
// is kept (a grey picture's becomes sRGB). Depth is the original's as far as the format holds it; 8 bits are
// dithered, by a pattern that leaves whole values as they are. The file appears at finish(), whole.
class StripWriter {
 public:
  // Throws as writePicture does.
  StripWriter(const std::filesystem::path& path, const StoredPicture& like, ProfileChoice profile,
              const Encoding& encoding = {});
  ~StripWriter();
  StripWriter(const StripWriter&) = delete;
  StripWriter& operator=(const StripWriter&) = delete;

  // Whether the original's profile was to be kept and is not: nobody can read it, or the format does not take
  // it. The picture is in sRGB then.
  bool profileLeftOut() const;
  // The next rows, as rows() gives them.
  void write(Image strip);
  // Throws Error where the file did not arrive whole.
  void finish();

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace jugendstil
