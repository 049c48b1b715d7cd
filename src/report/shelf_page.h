// SPDX-License-Identifier: Apache-2.0
// One page for a browser, complete in itself, that shows a collection: small pictures, search as one types,
// tags to click.
#pragma once

#include <string>
#include <vector>

namespace jugendstil {

// The text of shelf_page.html, put in by the build.
extern const char* const kShelfPage;

struct ShelfCard {
  std::string name;
  std::string kind;       // "reference", "look", ...
  std::string thumbnail;  // a JPEG's bytes; empty where it is no picture
  std::string file;       // where it lies
  std::string about;      // "1280 x 853"; may be empty
  std::string note;
  std::string option;  // what is typed to use it; shown to be copied
  std::vector<std::string> tags;
  std::vector<std::string> albums;
};

// Whatever stands in names, notes and tags is text there.
std::string shelfPage(const std::string& title, const std::vector<ShelfCard>& cards);

}  // namespace jugendstil
