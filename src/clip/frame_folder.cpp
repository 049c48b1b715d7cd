// SPDX-License-Identifier: Apache-2.0
#include "clip/frame_folder.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "base/error.h"
#include "base/file_name.h"
#include "image/picture_file.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// More missing in a row than this is another numbering, not a gap.
constexpr std::int64_t kWidestGap = 1000;

struct Pattern {
  std::string before;
  int digits = 0;
  std::string after;
};

std::optional<Pattern> parsePattern(const std::string& name) {
  const auto percent = name.find('%');
  if (percent == std::string::npos || name.find('%', percent + 1) != std::string::npos) return std::nullopt;
  auto end = percent + 1;
  int digits = 0;
  if (end < name.size() && name[end] == '0') {
    const auto [stop, error] = std::from_chars(name.data() + end, name.data() + name.size(), digits);
    if (error != std::errc() || digits > 18) return std::nullopt;
    end = stop - name.data();
  }
  if (end >= name.size() || name[end] != 'd') return std::nullopt;
  return Pattern{name.substr(0, percent), digits, name.substr(end + 1)};
}

// The numbers of the files that fit the pattern, sorted.
std::vector<std::int64_t> numbersOf(const Pattern& pattern) {
  const fs::path start(pattern.before);
  const fs::path folder = start.has_parent_path() ? start.parent_path() : fs::path(".");
  const std::string before = start.filename().string();
  std::vector<std::int64_t> numbers;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const std::string name = entry.path().filename().string();
    if (name.size() <= before.size() + pattern.after.size() || !name.starts_with(before) ||
        !name.ends_with(pattern.after)) {
      continue;
    }
    const char* first = name.data() + before.size();
    const char* last = name.data() + name.size() - pattern.after.size();
    std::int64_t number = 0;
    const auto [end, error] = std::from_chars(first, last, number);
    if (error != std::errc() || end != last || *first == '-' || last - first < pattern.digits) continue;
    numbers.push_back(number);
  }
  if (code) throw Error(fmt::format("the folder {} cannot be read: {}", folder.string(), code.message()));
  std::sort(numbers.begin(), numbers.end());
  return numbers;
}

class FolderSource final : public FrameSource {
 public:
  explicit FolderSource(const std::string& pattern) : pattern_(pattern) {
    const std::vector<std::int64_t> numbers = numbersOf(*parsePattern(pattern));
    if (numbers.empty()) throw Error(fmt::format("no file fits {}", pattern));
    for (std::size_t i = 1; i < numbers.size(); ++i) {
      if (numbers[i] - numbers[i - 1] > kWidestGap) {
        throw Error(fmt::format("between {} and {} are {} frames missing; name one take only",
                                frameName(pattern, numbers[i - 1]), frameName(pattern, numbers[i]),
                                numbers[i] - numbers[i - 1] - 1));
      }
    }
    first_ = numbers.front();
    info_.firstNumber = first_;
    const Picture picture = readPicture(frameName(pattern, first_));
    info_.path = pattern;
    info_.width = picture.image.width;
    info_.height = picture.image.height;
    info_.bits = picture.depth == Depth::eight ? 8 : 16;
    info_.codec = "frames";
    info_.colour = {1, 13, 2, true};  // sRGB by its numbers
    const std::int64_t count = numbers.back() - first_ + 1;
    for (std::int64_t i = 0; i < count; ++i) info_.times.push_back(i);
    info_.seconds = static_cast<double>(count) / info_.rate.value();
  }

  const ClipInfo& info() const override { return info_; }
  std::int64_t position() const override { return next_; }
  void seek(std::int64_t frame) override { next_ = frame; }

  FrameState read(Image& frame) override {
    if (next_ >= static_cast<std::int64_t>(info_.times.size())) return FrameState::end;
    const std::string name = frameName(pattern_, first_ + next_);
    ++next_;
    Image image;
    try {
      image = rgbOf(readPicture(name).image);
    } catch (const Error&) {
      return FrameState::missing;
    }
    if (image.width != info_.width || image.height != info_.height) {
      throw Error(fmt::format("{} is {}x{}, the frames before are {}x{}; bring them to one size", name,
                              image.width, image.height, info_.width, info_.height));
    }
    frame = std::move(image);
    return FrameState::read;
  }

 private:
  std::string pattern_;
  std::int64_t first_ = 0;
  std::int64_t next_ = 0;
  ClipInfo info_;
};

}  // namespace

bool isFramePattern(const std::string& name) {
  std::error_code code;
  return parsePattern(name).has_value() && !fs::is_regular_file(name, code);
}

bool isClipName(const std::string& name) {
  if (isFramePattern(name)) return true;
  const std::string extension = extensionOf(name);
  constexpr const char* kClips[] = {".mkv", ".mp4", ".mov", ".webm", ".avi", ".y4m", ".m4v", ".mpg", ".mxf"};
  return std::find(std::begin(kClips), std::end(kClips), extension) != std::end(kClips);
}

std::string frameName(const std::string& pattern, std::int64_t number) {
  const Pattern p = *parsePattern(pattern);
  return fmt::format("{}{:0{}}{}", p.before, number, p.digits, p.after);
}

std::unique_ptr<FrameSource> openFrameFolder(const std::string& pattern) {
  return std::make_unique<FolderSource>(pattern);
}

}  // namespace jugendstil
