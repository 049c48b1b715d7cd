// SPDX-License-Identifier: Apache-2.0
#include "report/gallery_page.h"

#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "support/browser.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::inBrowser;
using testing_support::sample;
using testing_support::TemporaryFolder;

GallerySection section() {
  GallerySection s{"Painted & <hung>", "two", {}};
  s.items.push_back(
      {"after \"oil\"", "a b#1.png", "photo.png", "ref.png", "jugendstil paint photo.png -o a.png"});
  s.items.push_back({"a film", "pond.mp4", "", "", ""});
  return s;
}

TEST(GalleryPage, WhatNamesSayIsText) {
  const std::string page = galleryPage("a & b", "lead <i>", {section()});
  EXPECT_NE(page.find("<title>a &amp; b</title>"), std::string::npos);
  EXPECT_NE(page.find("Painted &amp; &lt;hung&gt;"), std::string::npos);
  EXPECT_NE(page.find("after &quot;oil&quot;"), std::string::npos);
  EXPECT_NE(page.find("lead &lt;i&gt;"), std::string::npos);
  EXPECT_NE(page.find("<video src=\"pond.mp4\""), std::string::npos);
  for (const char* mark : {"@TITLE@", "@SECTIONS@", "@DIVIDER", "http"})
    EXPECT_EQ(page.find(mark), std::string::npos);
}

TEST(GalleryPage, ShowsItsFilesAndEachDividerMovesAlone) {
  const TemporaryFolder folder;
  for (const char* name : {"a b#1.png", "photo.png", "ref.png", "c.png"})
    writePicture(folder / name, sample(90, 60), Depth::eight);
  GallerySection two = section();
  two.items.pop_back();
  two.items.push_back({"c", "c.png", "photo.png", "", ""});
  for (const char* window : {"1280,800", "390,844"}) {
    const std::string told = inBrowser(galleryPage("t", "", {two}), R"(
      const tell = () => {
        const stages = [...document.querySelectorAll(".stage")];
        stages[1].querySelector(".handle").dispatchEvent(new KeyboardEvent("keydown", { key: "End", bubbles: true }));
        document.getElementById("told").textContent = [
          [...document.images].every((image) => image.naturalWidth === 90),
          document.documentElement.scrollWidth <= innerWidth,
          document.querySelector("code").textContent,
          ...stages.map((stage) => stage.querySelector(".handle").getAttribute("aria-valuenow"))].join(" ");
      };
      if (document.readyState === "complete") tell(); else addEventListener("load", tell);
    )",
                                       window, folder.path);
    EXPECT_EQ(told, "true true jugendstil paint photo.png -o a.png 50 100") << window;
  }
}

}  // namespace
}  // namespace jugendstil
