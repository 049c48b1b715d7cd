// SPDX-License-Identifier: Apache-2.0
#include "base/atomic_file.h"
#include "cli/demo_parts.h"
#include "cli/say.h"
#include "cli/shelf_request.h"
#include "image/picture_file.h"
#include "shelf/adding.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

struct Board {
  const char* folder;  // of the demo's pictures
  const char* tag;
  ShelfKind kind;
};
constexpr Board kBoards[] = {{"references", "painting", ShelfKind::reference},
                             {"photo_references", "light", ShelfKind::reference},
                             {"swatches", "surface", ShelfKind::swatch}};

}  // namespace

DemoPart shelfDemo(const Demo& demo) {
  Shelf shelf(demo.folder / "shelf");
  for (const Board& board : kBoards) {
    Adding how;
    how.kind = board.kind;
    how.tags = {board.tag};
    how.albums = {"Palmarium"};
    addFiles(shelf, filesMeant({demo.inputs / board.folder}), how, [](const AddedFile&) {});
  }
  const auto all = shelf.find({});
  writePicture(demo.folder / "shelf-sheet.png", sheetOf(shelf, all), Depth::eight);
  writeFileAtomically(demo.folder / "shelf.html", pageOf(shelf, all, "The Palmarium's shelf"));
  say(stdout,
      "{}: the references and swatches on a shelf of the demo's own; shelf.html to look through them\n",
      (demo.folder / "shelf-sheet.png").string());
  GalleryItem item;
  item.caption = "The shelf; shelf.html beside this page searches it";
  item.file = "shelf-sheet.png";
  item.command = "jugendstil shelf page --shelf shelf -o shelf.html --force";
  item.wide = true;
  return {0, {"On the shelf", "References and swatches under names, with tags.", {item}}};
}

}  // namespace jugendstil::cli
