// SPDX-License-Identifier: Apache-2.0
#include "image/picture_output.h"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "image/picture_input.h"
#include "image/picture_io.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kProbe = std::size_t{1} << 20;

// Whether a format's writer can go through a stream. The one for TIFF cannot: it has to read what it has
// written, and is given nothing.
bool writesStreams(const std::string& extension) { return !extension.starts_with(".tif"); }

// Pixels a side that the formats have room for.
constexpr int kMostWebp = 16383;
constexpr int kMostJpeg = 65535;

}  // namespace

void requireRoom(const fs::path& target, int width, int height) {
  const std::string extension = extensionOf(target);
  const bool jpeg = extension == ".jpg" || extension == ".jpeg";
  if (!jpeg && extension != ".webp") return;
  const int most = jpeg ? kMostJpeg : kMostWebp;
  if (std::max(width, height) <= most) return;
  throw Error(fmt::format(
      "cannot write {}: {}x{} is too large for its format, which has room for {} pixels a side; name the "
      "result .png or .tif",
      target.string(), width, height, most));
}

namespace {

// What is written goes through one thread anyway, and where the library gets none for its pool it throws.
std::unique_ptr<OIIO::ImageOutput> writerOnOneThread(const std::string& format) {
  [[maybe_unused]] static const bool done = OIIO::attribute("threads", 1);
  return OIIO::ImageOutput::create(format);
}

}  // namespace

PictureOutput::PictureOutput(const fs::path& target, const std::string& extension)
    : target_(target),
      file_(target, AtomicFile::Appeared::kept),
      output_(writerOnOneThread(extension.substr(1))) {
  if (output_ && writesStreams(extension))
    output_->set_ioproxy(&stream_.emplace(file_.temporary(), File::Mode::write));
  if (output_) return;
  OIIO::geterror();
  throw Error(
      fmt::format("cannot write {}: this installation has no writer for {}", target.string(), extension));
}

PictureOutput::~PictureOutput() {
  if (closed_ || std::string_view(output_->format_name()) != "png") return;
  // libpng complains on the terminal of a picture that is given up half way, so it gets its rows.
  const OIIO::ImageSpec& spec = output_->spec();
  const std::vector<std::byte> black(spec.scanline_bytes(false));
  while (next_ < spec.height && output_->write_scanline(next_, 0, spec.format, black.data())) ++next_;
}

bool PictureOutput::failed() const { return stream_ && stream_->failure(); }

void PictureOutput::fail() {
  output_->geterror();  // the library's own words are left behind
  const std::string what = fmt::format("cannot write {}", target_.string());
  if (failed()) throw DiskError(what, *stream_->failure());
  try {
    // The library does not say why: what a little more fails of, it failed of.
    File(file_.temporary(), File::Mode::append).write(std::string(kProbe, ' '));
  } catch (const DiskError& e) {
    throw DiskError(what, e.reason());
  }
  const OIIO::ImageSpec& spec = output_->spec();
  throw Error(fmt::format("{}: its format did not take a picture of {}x{}; name the result .png or .tif",
                          what, spec.width, spec.height));
}

void PictureOutput::open(const OIIO::ImageSpec& spec, bool append) {
  const std::string_view format = output_->format_name();
  const auto mode = append ? OIIO::ImageOutput::AppendSubimage : OIIO::ImageOutput::Create;
  next_ = 0;
  const std::string name = stream_ ? "picture" : file_.temporary().string();
  if (!output_->open(name, withoutForeignTags(spec, format), mode) || failed()) fail();
}

void PictureOutput::writeRows(int begin, int end, OIIO::TypeDesc type, const void* rows,
                              OIIO::stride_t stride) {
  next_ = end;
  if (!output_->write_scanlines(begin, end, 0, type, rows, stride) || failed()) fail();
}

void PictureOutput::close() {
  closed_ = true;
  if (!output_->close() || failed()) fail();
  if (stream_) return;
  // Unseen errors may be left: what cannot be read back is not kept.
  try {
    PictureInput(file_.temporary()).readThrough();
  } catch (const Error&) {
    fail();
  }
}

void PictureOutput::change(const std::function<void(const fs::path& file)>& how) {
  try {
    how(file_.temporary());
  } catch (const DiskError& e) {
    throw DiskError(fmt::format("cannot write {}", target_.string()), e.reason());
  }
}

void PictureOutput::commit() { file_.commit(); }

}  // namespace jugendstil
