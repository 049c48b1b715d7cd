// SPDX-License-Identifier: Apache-2.0
// One page for a browser that shows what lies in its folder: pictures over what they were made from, with a
// divider to drag, films, and the command that made each.
#pragma once

#include <string>
#include <vector>

namespace jugendstil {

// The text of gallery_page.html, put in by the build.
extern const char* const kGalleryPage;

// File names are relative to the page's folder.
struct GalleryItem {
  std::string caption;
  std::string file;     // a picture, or a film (.mp4, .webm)
  std::string before;   // what it was made from, to lie under it; empty: shown alone
  std::string beside;   // the reference, shown small beside the caption; may be empty
  std::string command;  // may be empty
  bool wide = false;    // as wide as the page
};

struct GallerySection {
  std::string title;
  std::string text;
  std::vector<GalleryItem> items;
};

// HTML that refers to the files. Whatever stands in names and captions is text there.
std::string galleryPage(const std::string& title, const std::string& lead,
                        const std::vector<GallerySection>& sections);

}  // namespace jugendstil
