// SPDX-License-Identifier: Apache-2.0
#include "image/layered_file.h"

#include <archive.h>
#include <archive_entry.h>
#include <fmt/format.h>

#include <algorithm>
#include <cstring>
#include <memory>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/markup.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr int kThumbnail = 256;
// Equal pictures give equal files: nothing is dated. Zip knows no time before this one.
constexpr std::time_t kNoTime = 315532800;

struct CloseArchive {
  void operator()(archive* a) const { archive_write_free(a); }
};
struct FreeEntry {
  void operator()(archive_entry* e) const { archive_entry_free(e); }
};

class ZipWriter {
 public:
  ZipWriter(const std::filesystem::path& file, std::string name)
      : name_(std::move(name)), archive_(archive_write_new()) {
    archive_write_set_format_zip(archive_.get());
    // Pictures are compressed already, and the first entry must not be.
    archive_write_zip_set_compression_store(archive_.get());
    require(archive_write_open_filename(archive_.get(), file.c_str()));
  }

  void add(const std::string& name, std::string_view bytes) {
    const std::unique_ptr<archive_entry, FreeEntry> entry(archive_entry_new());
    archive_entry_set_pathname(entry.get(), name.c_str());
    archive_entry_set_size(entry.get(), static_cast<la_int64_t>(bytes.size()));
    archive_entry_set_filetype(entry.get(), AE_IFREG);
    archive_entry_set_perm(entry.get(), 0644);
    archive_entry_set_mtime(entry.get(), kNoTime, 0);
    require(archive_write_header(archive_.get(), entry.get()));
    if (archive_write_data(archive_.get(), bytes.data(), bytes.size()) !=
        static_cast<la_ssize_t>(bytes.size()))
      require(ARCHIVE_FATAL);
  }

  void finish() { require(archive_write_close(archive_.get())); }

 private:
  void require(int code) const {
    if (code >= ARCHIVE_WARN) return;
    const int number = archive_errno(archive_.get());
    const std::string what = fmt::format("cannot write {}", name_);
    if (number > 0) throw DiskError(what, std::strerror(number));
    throw Error(
        fmt::format("{}: the archive did not take a part of it; try again with a smaller picture", what));
  }

  std::string name_;
  std::unique_ptr<archive, CloseArchive> archive_;
};

// Names as the specification has them: those of CSS and SVG compositing.
std::string operationOf(BlendMode mode) {
  return mode == BlendMode::normal ? "svg:src-over" : "svg:" + blendModeName(mode);
}

std::string sourceOf(std::size_t layer) { return fmt::format("data/layer{}.png", layer + 1); }

std::string stackText(const std::vector<PictureLayer>& layers) {
  const Image& first = layers.front().image;
  std::string text = fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<image version=\"0.0.6\" w=\"{}\" h=\"{}\" xres=\"72\" "
      "yres=\"72\">\n  <stack>\n",
      first.width, first.height);
  // The uppermost comes first.
  for (std::size_t i = layers.size(); i-- > 0;) {
    text += fmt::format(
        "    <layer name=\"{}\" src=\"{}\" composite-op=\"{}\" opacity=\"{:.6g}\" visibility=\"visible\" "
        "x=\"0\" "
        "y=\"0\"/>\n",
        escapedMarkup(layers[i].name), sourceOf(i), operationOf(layers[i].blend), layers[i].opacity);
  }
  return text + "  </stack>\n</image>\n";
}

void requireAlike(const std::vector<PictureLayer>& layers, const Image& merged) {
  if (layers.empty()) throw Error("a layered picture needs at least one layer");
  for (const PictureLayer& layer : layers) {
    if (layer.image.width != merged.width || layer.image.height != merged.height)
      throw Error(fmt::format("layer \"{}\" has another size than the picture", layer.name));
  }
}

}  // namespace

void requireOpenRasterName(const std::filesystem::path& path) {
  if (extensionOf(path) != ".ora")
    throw UsageError(
        fmt::format("layers are written as OpenRaster; give {} a name ending in .ora", path.string()));
}

void writeOpenRaster(const std::filesystem::path& path, const std::vector<PictureLayer>& layers,
                     const Image& merged, Depth depth) {
  requireOpenRasterName(path);
  requireAlike(layers, merged);
  AtomicFile file(path);
  ZipWriter zip(file.temporary(), path.string());
  zip.add("mimetype", "image/openraster");
  zip.add("stack.xml", stackText(layers));
  for (std::size_t i = 0; i < layers.size(); ++i) zip.add(sourceOf(i), encodedPng(layers[i].image, depth));
  zip.add("mergedimage.png", encodedPng(merged, depth));
  const Size small = sizeForLongEdge(merged.width, merged.height,
                                     std::min(kThumbnail, std::max(merged.width, merged.height)));
  zip.add("Thumbnails/thumbnail.png",
          encodedPng(resizePhoto(merged, small.width, small.height), Depth::eight));
  zip.finish();
  file.commit();
}

}  // namespace jugendstil
