// SPDX-License-Identifier: Apache-2.0
#include "shelf/adding.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/parallel.h"
#include "base/words.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "image/stored_picture.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kBatch = 64;
constexpr int kThumbnailQuality = 82;

std::int64_t now() {
  return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch())
      .count();
}

// Not much larger than it is measured, upright: in whole steps, row by row, which leaves resampling little.
Image reducedFrom(const StoredPicture& stored) {
  const int longEdge = std::max(stored.width(), stored.height());
  const int factor = std::max(1, std::min({longEdge / kShelfEdge, stored.width(), stored.height()}));
  Image out(stored.width() / factor, stored.height() / factor, stored.channels());
  for (int y = 0; y < out.height; ++y) {
    const Image row = boxReduced(stored.rows(y * factor, factor), factor);
    std::copy(row.pixels.begin(), row.pixels.end(), out.row(y));
  }
  return reoriented(rgbOf(out), stored.orientation());
}

class Adder {
 public:
  Adder(Shelf& shelf, const Adding& how) : shelf_(shelf), how_(how) {}

  AddedFile add(const fs::path& file, ReadFile read) {
    ShelfEntry& fresh = read.entry;
    if (auto there = shelf_.at(fresh.path)) {
      const bool changed = there->checksum != fresh.checksum;
      if (changed) takeContent(*there, fresh, read.look);
      return told(file, changed ? AddedAs::changed : AddedAs::known, std::move(*there));
    }
    for (ShelfEntry& twin : shelf_.withChecksum(fresh.checksum)) {
      std::error_code code;
      if (fs::exists(twin.path, code)) return labelled(file, AddedAs::copy, std::move(twin));
      twin.path = fresh.path;
      twin.modified = fresh.modified;
      return told(file, AddedAs::moved, std::move(twin));
    }
    if (how_.keep) {
      fresh.path = keptPath(shelf_, fresh.path, fresh.checksum);
      fresh.kept = true;
    }
    fresh.name = how_.name.empty() ? shelf_.freeName(nameForFile(file)) : how_.name;
    fresh.added = now();
    label(fresh);
    fresh.id = shelf_.put(fresh, read.look);
    return {file, AddedAs::fresh, std::move(fresh), ""};
  }

 private:
  void label(ShelfEntry& entry) const {
    entry.tags = withLabels(std::move(entry.tags), how_.tags);
    entry.albums = withLabels(std::move(entry.albums), how_.albums);
    if (!how_.note.empty()) entry.note = how_.note;
  }

  void takeContent(ShelfEntry& there, const ShelfEntry& fresh, const EntryLook& look) {
    there.checksum = fresh.checksum;
    there.bytes = fresh.bytes;
    there.modified = fresh.modified;
    there.width = fresh.width;
    there.height = fresh.height;
    shelf_.changeLook(there.id, look);
  }

  AddedFile told(const fs::path& file, AddedAs as, ShelfEntry entry) {
    if (!how_.name.empty()) entry.name = how_.name;
    if (how_.kind) entry.kind = *how_.kind;
    return labelled(file, as, std::move(entry));
  }

  AddedFile labelled(const fs::path& file, AddedAs as, ShelfEntry entry) {
    label(entry);
    shelf_.change(entry);
    return {file, as, std::move(entry), ""};
  }

  Shelf& shelf_;
  const Adding& how_;
};

void walk(const fs::path& folder, std::vector<fs::path>& files) {
  std::error_code code;
  std::vector<fs::path> found;
  for (fs::recursive_directory_iterator at(folder, fs::directory_options::skip_permission_denied, code), end;
       !code && at != end; at.increment(code)) {
    const bool hidden = at->path().filename().native().front() == '.';
    if (hidden && at->is_directory()) at.disable_recursion_pending();
    if (!hidden && at->is_regular_file() && kindOfFile(at->path())) found.push_back(at->path());
  }
  if (code) throw DiskError("cannot read folder " + folder.string(), code.message());
  std::sort(found.begin(), found.end());
  files.insert(files.end(), found.begin(), found.end());
}

// Before files are read for nothing.
void requireNameFree(const Shelf& shelf, const Adding& how, const std::vector<fs::path>& files) {
  if (how.name.empty()) return;
  requireName(how.name);
  if (files.size() != 1)
    throw UsageError(fmt::format("a name is for one file, and these are {}", files.size()));
  const auto taken = shelf.named(how.name);
  if (taken && taken->path != fs::absolute(files[0]).lexically_normal())
    throw UsageError(
        fmt::format("{} is on the shelf already: {}; give another name, or forget that one first", how.name,
                    taken->path.string()));
}

}  // namespace

std::vector<fs::path> filesMeant(const std::vector<fs::path>& words) {
  std::vector<fs::path> files;
  for (const fs::path& word : words) {
    std::error_code code;
    if (fs::is_directory(word, code)) {
      walk(word, files);
    } else if (!fs::exists(word, code)) {
      throw Error(fmt::format("there is no file {}", word.string()));
    } else if (!kindOfFile(word)) {
      throw Error(
          fmt::format("{} is nothing that a shelf holds: pictures, drawn masks (.svg), looks "
                      "(.look.toml, .cube, .clf), recipes (.recipe.toml) and quick painters "
                      "(.painter.onnx)",
                      word.string()));
    } else {
      files.push_back(word);
    }
  }
  if (files.empty()) throw UsageError("there is nothing to add: no pictures, looks, recipes or painters");
  return files;
}

void addFiles(Shelf& shelf, const std::vector<fs::path>& files, const Adding& how,
              const std::function<void(const AddedFile&)>& told) {
  requireNameFree(shelf, how, files);
  Adder adder(shelf, how);
  for (std::size_t first = 0; first < files.size(); first += kBatch) {
    const std::size_t count = std::min(kBatch, files.size() - first);
    std::vector<std::optional<ReadFile>> read(count);
    std::vector<AddedFile> added(count);
    parallelFor(count, [&](std::size_t i) {
      const fs::path& file = files[first + i];
      try {
        read[i] = readForShelf(file, how.kind ? *how.kind : *kindOfFile(file));
      } catch (const Error& e) {
        added[i] = {file, AddedAs::failed, {}, e.what()};
      }
    });
    // Before others have to wait.
    for (std::size_t i = 0; how.keep && i < count; ++i) {
      if (read[i] && shelf.withChecksum(read[i]->entry.checksum).empty())
        keepCopy(shelf, files[first + i], read[i]->entry.checksum);
    }
    Transaction transaction(shelf.database());
    for (std::size_t i = 0; i < count; ++i) {
      if (read[i]) added[i] = adder.add(files[first + i], std::move(*read[i]));
    }
    transaction.commit();
    for (const AddedFile& one : added) told(one);
  }
}

ReadFile readForShelf(const fs::path& file, ShelfKind kind) {
  ReadFile read;
  ShelfEntry& entry = read.entry;
  entry.kind = kind;
  entry.path = fs::absolute(file).lexically_normal();
  entry.checksum = fileChecksum(file);
  std::error_code code;
  entry.bytes = static_cast<std::int64_t>(fs::file_size(file, code));
  entry.modified = modifiedAt(file);
  if (!isPicture(kind) || !isPictureName(file)) return read;
  const StoredPicture stored = StoredPicture::read(file);
  const bool lies = stored.orientation() > 4;
  entry.width = lies ? stored.height() : stored.width();
  entry.height = lies ? stored.width() : stored.height();
  const Image picture = reducedFrom(stored);
  const int longEdge = std::max(picture.width, picture.height);
  const Size size = sizeForLongEdge(picture.width, picture.height, std::min(kShelfEdge, longEdge));
  const Image small = resizePhoto(picture, size.width, size.height);
  read.look = {encodedJpeg(small, kThumbnailQuality), measuresOf(small)};
  return read;
}

std::int64_t modifiedAt(const fs::path& file) {
  std::error_code code;
  const auto time = fs::last_write_time(file, code);
  return code ? 0 : std::chrono::duration_cast<std::chrono::nanoseconds>(time.time_since_epoch()).count();
}

fs::path keptPath(const Shelf& shelf, const fs::path& file, const std::string& checksum) {
  const std::string name = file.filename().string();
  // Of .look.toml both endings say what it is.
  const auto ending = kindOfFile(file) == ShelfKind::reference ? name.rfind('.') : name.find('.', 1);
  return fs::absolute(shelf.keptFolder()) / (checksum + lowerCase(name.substr(ending)));
}

void keepCopy(const Shelf& shelf, const fs::path& file, const std::string& checksum) {
  fs::create_directories(shelf.keptFolder());
  const fs::path copy = keptPath(shelf, file, checksum);
  std::error_code code;
  if (fs::exists(copy, code)) return;
  AtomicFile target(copy);
  fs::copy_file(file, target.temporary(), fs::copy_options::overwrite_existing, code);
  if (code) throw DiskError("cannot copy " + file.string() + " to " + copy.string(), code.message());
  target.commit();
}

}  // namespace jugendstil
