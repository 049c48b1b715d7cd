// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "cli/interrupt.h"
#include "cli/painters.h"
#include "cli/progress.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/shelf_request.h"
#include "image/picture_file.h"
#include "network/chain_file.h"
#include "report/sheet.h"
#include "shelf/suiting.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostSuiting = 12;
// Of the quick paintings on the sheet, and of their cells.
constexpr int kLongEdge = 384;
constexpr int kCell = 384;

struct Suited {
  FoundEntry found;
  std::string why;
};

std::vector<Suited> suitedTo(const ShelfRequest& r, const PictureMeasures& photo) {
  ShelfSearch search;
  search.tags = r.labels("tag");
  search.albums = r.labels("album");
  search.kind = ShelfKind::reference;
  search.suits = photo;
  search.most = static_cast<std::size_t>(numberOf(r.given, "most", kMostSuiting, 1e6));
  std::vector<Suited> all;
  for (FoundEntry& found : r.shelf.find(search)) {
    const auto measures = r.shelf.lookOf(found.entry.id).measures;
    all.push_back({std::move(found), measures ? whyItSuits(suiting(photo, *measures)) : ""});
  }
  return all;
}

Image quicklyPainted(const Image& photo, const ShelfEntry& reference, const Chain& chain) {
  PaintSettings settings;
  settings.quick = true;
  settings.longEdge = std::min(kLongEdge, std::max(photo.width, photo.height));
  PaintInputs inputs{photo, {{rgbOf(readPicture(reference.path).image), 1}}};
  const Painters painters = generalPainters(inputs, chain, settings);
  settings = settingsWith(painters.choice, settings);
  const InterruptWatch interrupt;
  return paintAtOnce(painters.choice, inputsWith(painters.choice, std::move(inputs)), settings,
                     [&](const PaintProgress&) { interrupt.stopIfWanted(); })
      .picture;
}

void writeSheet(const fs::path& output, const Image& photo, const std::string& name,
                const std::vector<Suited>& all, ProgressStyle style) {
  const Chain chain = readOnnx(shippedNetworkInput().path);
  std::vector<SheetCell> cells{{photo, name + ", the photo", ""}};
  ProgressDisplay display(style);
  for (std::size_t i = 0; i < all.size(); ++i) {
    const ShelfEntry& entry = all[i].found.entry;
    display.show(static_cast<double>(i) / static_cast<double>(all.size()), "painting", i, all.size());
    try {
      cells.push_back({quicklyPainted(photo, entry, chain), entry.name + ": " + all[i].why, ""});
    } catch (const DiskError&) {
      throw;
    } catch (const Error& e) {  // its file may be gone; the others are there
      say(stderr, "note: left out: {}: {}\n", entry.name, e.what());
    }
  }
  display.finish();
  if (cells.size() == 1)
    throw Error("none of these files can be read; jugendstil shelf check looks for them");
  SheetOptions options;
  options.cellWidth = kCell;
  options.cellHeight = std::min(kCell, std::max(1, kCell * photo.height / photo.width));
  options.columns = std::min(4, static_cast<int>(cells.size()));
  writePicture(output, contactSheet(cells, options), Depth::eight);
}

void tell(const ShelfRequest& r, const std::vector<Suited>& all) {
  std::size_t width = 0;
  for (const Suited& one : all) width = std::max(width, one.found.entry.name.size());
  for (std::size_t i = 0; i < all.size(); ++i) {
    const FoundEntry& found = all[i].found;
    if (r.json())
      tellEntryJson(found, all[i].why);
    else
      say(stdout, "{:>2}  {:<{}}  {}\n", i + 1, found.entry.name, width, all[i].why);
  }
}

}  // namespace

int suitsOnShelf(ShelfRequest& r) {
  if (r.words.size() != 1) throw UsageError("suits is asked of one photo: jugendstil shelf suits PHOTO");
  const fs::path file = r.words[0];
  const Image photo = rgbOf(readPicture(file).image);
  const fs::path output = r.has("output") ? shelfOutput(r, "suits.png", sheetEndings()) : fs::path();
  const auto all = suitedTo(r, measuresOf(photo));
  if (all.empty()) throw Error("no reference on the shelf is like that; jugendstil shelf list shows all");
  tell(r, all);
  if (output.empty()) {
    if (!r.json() && !r.quiet())
      say(stdout, "painted at once after each of them, side by side: add -o suits.png\n");
    return 0;
  }
  writeSheet(output, photo, file.stem().string(), all, progressStyle("auto", r.quiet() || r.json()));
  if (!r.quiet() && !r.json())
    say(stdout, "{}: the photo painted at once after each of them\n", output.string());
  return 0;
}

}  // namespace jugendstil::cli
