// SPDX-License-Identifier: Apache-2.0
#include "shelf/checking.h"

#include <map>
#include <optional>
#include <set>

#include "base/checksum.h"
#include "base/error.h"
#include "shelf/adding.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// Files by their size: only what has a missing file's size is read.
class Places {
 public:
  void lookInto(const fs::path& folder, bool deep) {
    std::error_code code;
    const auto options = fs::directory_options::skip_permission_denied;
    for (fs::recursive_directory_iterator at(folder, options, code), end; !code && at != end;
         at.increment(code)) {
      if (at->is_directory(code) && !deep) at.disable_recursion_pending();
      if (!at->is_regular_file(code)) continue;
      const auto size = static_cast<std::int64_t>(at->file_size(code));
      files_[size].insert(fs::absolute(at->path()).lexically_normal());
    }
  }

  std::optional<fs::path> fileLike(const ShelfEntry& entry) const {
    const auto same = files_.find(entry.bytes);
    if (same == files_.end()) return std::nullopt;
    for (const fs::path& file : same->second) {
      try {
        if (fileChecksum(file) == entry.checksum) return file;
      } catch (const Error&) {  // a file that cannot be read is not the one
      }
    }
    return std::nullopt;
  }

 private:
  std::map<std::int64_t, std::set<fs::path>> files_;
};

class Checker {
 public:
  Checker(Shelf& shelf, const std::vector<fs::path>& folders) : shelf_(shelf), folders_(folders) {
    for (FoundEntry& found : shelf.find({})) all_.push_back(std::move(found.entry));
  }

  void run(const std::function<void(const CheckedEntry&)>& told) {
    for (const ShelfEntry& entry : all_) told(checked(entry));
  }

 private:
  CheckedEntry checked(const ShelfEntry& entry) {
    std::error_code code;
    if (!fs::is_regular_file(entry.path, code)) return lookedFor(entry);
    const auto bytes = static_cast<std::int64_t>(fs::file_size(entry.path, code));
    if (bytes == entry.bytes && modifiedAt(entry.path) == entry.modified)
      return {Condition::fine, entry, {}, ""};
    try {
      return readAgain(entry);
    } catch (const DiskError&) {
      throw;
    } catch (const Error& e) {
      return {Condition::unreadable, entry, {}, e.what()};
    }
  }

  CheckedEntry readAgain(ShelfEntry entry) {
    const ReadFile now = readForShelf(entry.path, entry.kind);
    const bool same = now.entry.checksum == entry.checksum;
    entry.checksum = now.entry.checksum;
    entry.bytes = now.entry.bytes;
    entry.modified = now.entry.modified;
    entry.width = now.entry.width;
    entry.height = now.entry.height;
    write(entry, same ? nullptr : &now.look);
    return {same ? Condition::fine : Condition::changed, entry, {}, ""};
  }

  CheckedEntry lookedFor(const ShelfEntry& entry) {
    const auto file = places().fileLike(entry);
    if (!file) return {Condition::missing, entry, {}, ""};
    CheckedEntry found{Condition::found, entry, entry.path, ""};
    found.entry.path = *file;
    found.entry.modified = modifiedAt(*file);
    write(found.entry, nullptr);
    return found;
  }

  void write(const ShelfEntry& entry, const EntryLook* look) {
    Transaction transaction(shelf_.database());
    shelf_.change(entry);
    if (look != nullptr) shelf_.changeLook(entry.id, *look);
    transaction.commit();
  }

  // Gathered where something is missing, which is seldom.
  const Places& places() {
    if (places_) return *places_;
    places_.emplace();
    std::set<fs::path> near;
    for (const ShelfEntry& entry : all_) near.insert(entry.path.parent_path());
    for (const fs::path& folder : near) places_->lookInto(folder, false);
    for (const fs::path& folder : folders_) places_->lookInto(folder, true);
    return *places_;
  }

  Shelf& shelf_;
  const std::vector<fs::path>& folders_;
  std::vector<ShelfEntry> all_;
  std::optional<Places> places_;
};

}  // namespace

void checkShelf(Shelf& shelf, const std::vector<fs::path>& folders,
                const std::function<void(const CheckedEntry&)>& told) {
  for (const fs::path& folder : folders) {
    std::error_code code;
    if (!fs::is_directory(folder, code)) throw Error("there is no folder " + folder.string());
  }
  Checker(shelf, folders).run(told);
}

}  // namespace jugendstil
