// SPDX-License-Identifier: Apache-2.0
#include "cli/compare_pictures.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/number.h"
#include "cli/interrupt.h"
#include "cli/say.h"
#include "clip/clip_writer.h"
#include "history/past_work.h"
#include "image/animated_picture.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "network/chain_file.h"
#include "paint/appraisal.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_writer.h"
#include "report/comparison_page.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

// Two pictures whose sides differ more than this are not of one thing.
constexpr double kSameFormat = 0.02;
constexpr int kSlideRate = 24;
constexpr int kSlideFrames = 96;
constexpr int kGifRate = 12;
constexpr int kGifFrames = 36;
// A GIF has no compression to speak of: larger ones no message carries.
constexpr int kGifEdge = 480;
constexpr int kCropWidth = 160;
constexpr int kCropHeight = 120;
constexpr int kCropCount = 3;

const Choices<ComparisonView> kViews{{"beside", ComparisonView::beside},
                                     {"sheet", ComparisonView::sheet},
                                     {"split", ComparisonView::split},
                                     {"slide", ComparisonView::slide},
                                     {"difference", ComparisonView::difference},
                                     {"crops", ComparisonView::crops},
                                     {"page", ComparisonView::page}};

// Names that differ: those of one name with their folder's.
std::vector<std::string> namesOf(const std::vector<fs::path>& files) {
  std::vector<std::string> names;
  for (const fs::path& file : files) {
    const auto same = std::count_if(files.begin(), files.end(), [&](const fs::path& other) {
      return other.filename() == file.filename();
    });
    names.push_back(same > 1 ? (file.parent_path().filename() / file.filename()).string()
                             : file.filename().string());
  }
  return names;
}

// How it was made, where a recipe lies beside it.
std::string noteOf(const fs::path& picture) {
  const fs::path file = recipePathFor(picture);
  std::error_code code;
  if (!fs::exists(file, code)) return {};
  try {
    const auto work = pastWork(readRecipe(file), file);
    if (!work || work->results.empty() || work->results[0].filename() != picture.filename()) return {};
    std::vector<std::string> parts = unusualOf(work->settings);
    if (!work->after.empty()) parts.insert(parts.begin(), fmt::format("{} {}", linkTo(*work), work->after));
    return fmt::format("{}", fmt::join(parts, ", "));
  } catch (const Error&) {
    return {};  // a note is not worth stopping for
  }
}

struct Compared {
  std::vector<std::string> names;
  std::vector<std::string> notes;
  std::vector<Image> pictures;  // RGB, each of its own size
};

Compared readAll(const PictureComparison& asked) {
  Compared all;
  all.names = namesOf(asked.pictures);
  for (const fs::path& file : asked.pictures) {
    all.pictures.push_back(rgbOf(readPicture(file).image));
    all.notes.push_back(noteOf(file));
  }
  return all;
}

// All of the first one's size.
std::vector<Image> broughtTogether(const Compared& all, bool quiet) {
  std::vector<Image> same;
  const Image& first = all.pictures.front();
  for (std::size_t i = 0; i < all.pictures.size(); ++i) {
    const Image& p = all.pictures[i];
    const double ratio = 1.0 * p.width * first.height / (1.0 * p.height * first.width);
    if (std::fabs(ratio - 1) > kSameFormat) {
      throw Error(
          fmt::format("{} ({}x{}) has not the format of {} ({}x{}), so they cannot lie over each other; see "
                      "them with --view beside",
                      all.names[i], p.width, p.height, all.names[0], first.width, first.height));
    }
    if (p.width != first.width && !quiet)
      say(stderr, "note: {} is brought from {}x{} to {}x{}\n", all.names[i], p.width, p.height, first.width,
          first.height);
    same.push_back(
        p.width == first.width && p.height == first.height ? p : resizePhoto(p, first.width, first.height));
  }
  return same;
}

void requireTwo(const PictureComparison& asked) {
  if (asked.pictures.size() == 2) return;
  throw UsageError(fmt::format("--view {} is of two pictures, not of {}", wordOf(asked.view, kViews),
                               asked.pictures.size()));
}

Image besideView(const Compared& all, bool reduced) {
  SheetOptions options;
  options.columns = reduced ? std::min(4, countOf(all.pictures)) : countOf(all.pictures);
  std::vector<SheetCell> cells;
  int width = 1;
  int height = 1;
  for (std::size_t i = 0; i < all.pictures.size(); ++i) {
    cells.push_back({all.pictures[i], all.names[i], all.notes[i]});
    width = std::max(width, all.pictures[i].width);
    height = std::max(height, all.pictures[i].height);
  }
  options.cellWidth = reduced ? std::min(width, 480) : width;
  options.cellHeight = reduced ? std::min(height, 480 * height / width + 1) : height;
  return contactSheet(cells, options);
}

// A row of crops for each place, a column for each picture.
Image cropsView(const PictureComparison& asked, const std::vector<std::string>& names,
                const std::vector<Image>& pictures) {
  std::vector<MaskBox> places = asked.crops;
  if (places.empty()) places = busyPlaces(pictures.front(), kCropWidth, kCropHeight, kCropCount);
  std::vector<SheetCell> cells;
  SheetOptions options;
  options.columns = countOf(pictures);
  options.cellWidth = options.cellHeight = 1;
  for (const MaskBox& place : places) {
    for (std::size_t i = 0; i < pictures.size(); ++i) {
      cells.push_back({magnified(pictures[i], place, asked.times), names[i],
                       fmt::format("{}x{} at {},{}, {} times", place.width, place.height, place.x, place.y,
                                   asked.times)});
      options.cellWidth = std::max(options.cellWidth, cells.back().picture.width);
      options.cellHeight = std::max(options.cellHeight, cells.back().picture.height);
    }
  }
  return contactSheet(cells, options);
}

void writeSlide(const PictureComparison& asked, const std::vector<Image>& pictures) {
  const InterruptWatch interrupt;
  ProgressDisplay display(asked.progress);
  const bool gif = extensionOf(asked.output) == ".gif";
  const int rate = gif ? kGifRate : kSlideRate;
  const int count = gif ? kGifFrames : kSlideFrames;
  const Image& whole = pictures[0];
  Size size{whole.width, whole.height};
  if (gif)
    size = sizeForLongEdge(size.width, size.height, std::min(kGifEdge, std::max(size.width, size.height)));
  const bool even = !gif && halvesChroma(codecForName(asked.output.string()));
  if (even) size = {std::max(2, size.width / 2 * 2), std::max(2, size.height / 2 * 2)};
  const Image first = resizePhoto(whole, size.width, size.height);
  const Image second = resizePhoto(pictures[1], size.width, size.height);
  const auto frame = [&](int i) {
    if (interrupt.wanted()) throw Error("stopped; nothing was written");
    display.show(1.0 * i / count, "frame", i, count);
    Divider divider = asked.divider;
    divider.at = slidingPlace(1.0 * i / count);
    return dividedView(first, second, divider);
  };
  if (gif) {
    writeGif(asked.output, count, rate, frame);
  } else {
    ClipFormat format;
    format.codec = codecForName(asked.output.string());
    format.width = size.width;
    format.height = size.height;
    format.rate = {rate, 1};
    format.timeBase = {1, rate};
    const auto clip = createClip(asked.output.string(), format, std::nullopt);
    for (int i = 0; i < count; ++i) clip->write(frame(i), i);
    clip->finish();
  }
  display.finish();
}

std::string number(std::optional<double> value) { return value ? fmt::format("{:.3f}", *value) : ""; }

struct Numbers {
  NumberTable table;
  nlohmann::json json = nlohmann::json::array();
};

// What is compared, and with what, as a table for people and for programs.
Numbers numbersOf(const PictureComparison& asked, const Compared& all) {
  const Chain chain = readOnnx(asked.network);
  std::vector<PaintReference> references;
  for (const ReferenceWord& word : asked.references)
    references.push_back({rgbOf(readPicture(word.path).image), word.share});
  const Image photo = asked.photo.empty() ? all.pictures.front() : rgbOf(readPicture(asked.photo).image);
  const Image& first = all.pictures.front();
  Appraiser appraiser(chain, photo, references, {first.width, first.height});
  Numbers out;
  const std::string to = asked.photo.empty() ? all.names.front() : asked.photo.filename().string();
  out.table.caption = fmt::format("drawing (0 is its own) and similarity (1 is the same) to {}", to);
  out.table.columns = {"drawing", "similarity"};
  if (!asked.references.empty()) {
    out.table.caption += "; style by band and colour (0 is the same) to the references";
    for (const std::string& band : chain.styleBands) out.table.columns.push_back(band);
    out.table.columns.emplace_back("colour");
  }
  for (std::size_t i = 0; i < all.pictures.size(); ++i) {
    const Appraisal a = appraiser.of(all.pictures[i]);
    NumberTable::Row row{all.names[i], {number(a.content), number(a.similarity)}};
    nlohmann::json object{
        {"file", asked.pictures[i].string()}, {"drawing", *a.content}, {"similarity", *a.similarity}};
    for (std::size_t b = 0; b < a.style.size(); ++b) {
      row.cells.push_back(number(a.style[b]));
      object["style"][chain.styleBands[b]] = a.style[b];
    }
    if (a.colour) {
      row.cells.push_back(number(a.colour));
      object["colour"] = *a.colour;
    }
    out.table.rows.push_back(std::move(row));
    out.json.push_back(std::move(object));
  }
  return out;
}

void printTable(const NumberTable& table) {
  std::size_t widest = 0;
  for (const NumberTable::Row& row : table.rows) widest = std::max(widest, row.name.size());
  say(stdout, "{}\n{:{}}", table.caption, "", widest + 2);
  for (const std::string& column : table.columns) say(stdout, "{:>11}", column);
  say(stdout, "\n");
  for (const NumberTable::Row& row : table.rows) {
    say(stdout, "{:{}}", row.name, widest + 2);
    for (const std::string& cell : row.cells) say(stdout, "{:>11}", cell);
    say(stdout, "\n");
  }
}

void writePage(const PictureComparison& asked, const Compared& all, const NumberTable& numbers) {
  std::vector<NamedPicture> pictures;
  std::vector<Image> same = broughtTogether(all, asked.quiet);
  for (std::size_t i = 0; i < same.size(); ++i)
    pictures.push_back({all.names[i], all.notes[i], std::move(same[i])});
  writeFileAtomically(asked.output,
                      comparisonPage(fmt::format("{}", fmt::join(all.names, ", ")), pictures, numbers));
}

void writeView(const PictureComparison& asked, const Compared& all, const NumberTable& numbers) {
  const auto write = [&](const Image& view) { writePicture(asked.output, view, Depth::eight); };
  switch (asked.view) {
    case ComparisonView::beside:
      return write(besideView(all, false));
    case ComparisonView::sheet:
      return write(besideView(all, true));
    case ComparisonView::split: {
      const std::vector<Image> same = broughtTogether(all, asked.quiet);
      return write(dividedView(same[0], same[1], asked.divider));
    }
    case ComparisonView::slide:
      return writeSlide(asked, broughtTogether(all, asked.quiet));
    case ComparisonView::difference: {
      const std::vector<Image> same = broughtTogether(all, asked.quiet);
      return write(differenceView(same[0], same[1], asked.gain));
    }
    case ComparisonView::crops:
      return write(cropsView(asked, all.names, broughtTogether(all, asked.quiet)));
    case ComparisonView::page:
      return writePage(asked, all, numbers);
  }
}

void requireFittingName(const PictureComparison& asked) {
  const ComparisonView byName = comparisonViewFor(asked.output);
  const bool picture = byName == ComparisonView::beside;
  if (picture) requireWritableName(asked.output);
  const bool fits = picture ? asked.view != ComparisonView::slide && asked.view != ComparisonView::page
                            : asked.view == byName;
  if (!fits) {
    throw UsageError(fmt::format(
        "--view {} cannot be written as {}; a page is .html, a slide .webm, .mp4, .mkv or .gif, all "
        "else a picture",
        wordOf(asked.view, kViews), asked.output.filename().string()));
  }
}

}  // namespace

ComparisonView comparisonViewOf(const std::string& word) { return choiceSetting("view", word, kViews); }

ComparisonView comparisonViewFor(const fs::path& output) {
  const std::string ending = extensionOf(output);
  if (ending == ".html" || ending == ".htm") return ComparisonView::page;
  for (const char* film : {".webm", ".mp4", ".mov", ".mkv", ".gif"}) {
    if (ending == film) return ComparisonView::slide;
  }
  return ComparisonView::beside;
}

void comparePictures(const PictureComparison& asked) {
  if (!asked.output.empty()) {
    requireFittingName(asked);
    requireFree(asked.output, asked.force);
    const bool ofTwo = asked.view == ComparisonView::split || asked.view == ComparisonView::slide ||
                       asked.view == ComparisonView::difference;
    if (ofTwo) requireTwo(asked);
  }
  const Compared all = readAll(asked);
  if (asked.dryRun) {
    if (asked.numbers) say(stdout, "would print numbers of {}\n", fmt::join(all.names, ", "));
    if (!asked.output.empty())
      say(stdout, "would write {}: {} of {}\n", asked.shownOutput(), wordOf(asked.view, kViews),
          fmt::join(all.names, ", "));
    return;
  }
  const Numbers numbers = asked.numbers ? numbersOf(asked, all) : Numbers{};
  if (asked.makesFolder) makeFolderFor(asked.output);
  if (!asked.output.empty()) writeView(asked, all, numbers.table);
  if (asked.progress == ProgressStyle::json) {
    nlohmann::json object{{"event", "done"}};
    if (!asked.output.empty()) object["file"] = asked.output.string();
    if (asked.numbers) object["pictures"] = numbers.json;
    sayJson(stdout, object);
    return;
  }
  if (asked.numbers) printTable(numbers.table);
  if (!asked.output.empty())
    say(stdout, "{}: {} of {}\n", asked.shownOutput(), wordOf(asked.view, kViews),
        fmt::join(all.names, ", "));
}

}  // namespace jugendstil::cli
