// SPDX-License-Identifier: Apache-2.0
// What reading and writing picture files share; for src/image only.
#pragma once

#include <OpenImageIO/imageio.h>

#include <functional>
#include <memory>
#include <optional>
#include <string>

#include "base/atomic_file.h"
#include "image/depth.h"
#include "image/image.h"
#include "image/picture_stream.h"

namespace jugendstil {

struct Metadata {
  OIIO::ParamValueList attributes;
};

// A picture file that is read. Its first picture has pixels and no more than a gigapixel.
class PictureInput {
 public:
  // Looks the file over for damage that decoders pass over in silence, and opens it. Throws Error, DiskError.
  explicit PictureInput(const std::filesystem::path& path);

  const OIIO::ImageSpec& spec() const { return input_->spec(); }
  bool linear() const;  // values are linear light: OpenEXR
  // All pixels, the first `channels` of each, in that type. Throws Error where the file is cut short.
  void read(int channels, OIIO::TypeDesc type, void* to);
  // The same without keeping them, a strip at a time.
  void readThrough();

 private:
  // Throws Error that says from which row on the picture cannot be read.
  [[noreturn]] void failReading();

  std::filesystem::path path_;
  PictureStream stream_;
  std::string jpeg_;
  std::optional<OIIO::Filesystem::IOMemReader> memory_;  // over it
  std::unique_ptr<OIIO::ImageInput> input_;
};

// Throws Error where the format of this name has no room for so many pixels a side. To be asked before a
// PictureOutput is made: the library's does not survive that it is never opened.
void requireRoom(const std::filesystem::path& target, int width, int height);

// A picture file that is written, beside its target; it takes the target's place at commit(). All throw Error
// or DiskError that names the target.
class PictureOutput {
 public:
  // `extension` (".png") chooses the format.
  PictureOutput(const std::filesystem::path& target, const std::string& extension);
  ~PictureOutput();
  PictureOutput(const PictureOutput&) = delete;
  PictureOutput& operator=(const PictureOutput&) = delete;

  // `append`: a further picture in the same file.
  void open(const OIIO::ImageSpec& spec, bool append = false);
  // Rows from `begin` on, before `end`; of that type, channels as the spec has them or `stride` bytes apart.
  void writeRows(int begin, int end, OIIO::TypeDesc type, const void* rows,
                 OIIO::stride_t stride = OIIO::AutoStride);
  // What is written is all.
  void close();
  // After close(), changes the file, which has a name of its own yet.
  void change(const std::function<void(const std::filesystem::path& file)>& how);
  void commit();

 private:
  bool failed() const;
  [[noreturn]] void fail();

  std::filesystem::path target_;
  AtomicFile file_;
  std::optional<PictureStream> stream_;
  std::unique_ptr<OIIO::ImageOutput> output_;
  int next_ = 0;  // row
  bool closed_ = false;
};

// Throws Error that names the first pixel that is not a number. `firstRow` is the rows' place in the picture.
void requireNumbers(const Image& rows, int firstRow, const std::filesystem::path& path);

Depth depthOf(OIIO::TypeDesc format);

// Empty where there is none.
std::string iccOf(const OIIO::ImageSpec& spec);

// Attributes that may travel to a picture of another size, orientation, depth or colour space.
std::shared_ptr<const Metadata> keepMetadata(const OIIO::ImageSpec& spec);

// What a file of this extension stores for a picture of this depth, or for the one that was asked for. Throws
// UsageError where the format cannot hold that.
OIIO::TypeDesc storedType(const std::string& extension, Depth depth, const Encoding& encoding);

// Whether an attribute of this name comes from EXIF, GPS, IPTC or XMP, and is no word to a writer.
bool isOfMetadata(const std::string& name);

// Without what the writers of these formats ("png", "openexr") would store under names of the library's own:
// PNG's makes a text of every word, but the format has names for a few only; OpenEXR has none for EXIF.
OIIO::ImageSpec withoutForeignTags(OIIO::ImageSpec spec, std::string_view format);

// How files of this extension are compressed.
void setCompression(OIIO::ImageSpec& spec, const std::string& extension, const Encoding& encoding);

// Keeps the library from writing the present time into files that have none: the same picture would never be
// the same file.
void leaveUndated(OIIO::ImageSpec& spec, const std::string& extension);

}  // namespace jugendstil
