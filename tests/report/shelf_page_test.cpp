// SPDX-License-Identifier: Apache-2.0
#include "report/shelf_page.h"

#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "support/browser.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::inBrowser;

std::vector<ShelfCard> cards() {
  const std::string picture = encodedJpeg(testing_support::sample(64, 48), 80);
  ShelfCard evening{"evening",  "reference",       picture,          "/p/evening.jpg", "64x48",
                    "for rain", "--after evening", {"oil", "night"}, {"Posters"}};
  ShelfCard caf{"caf\xc3\xa9",         "reference", picture, "/p/cafe.jpg", "64x48", "",
                "--after caf\xc3\xa9", {"oil"},     {}};
  ShelfCard look{"dusk</script><b>", "look", "", "/p/dusk.look.toml", "", "", "--look dusk", {}, {}};
  return {evening, caf, look};
}

// The names that are to be seen.
constexpr const char* kSeen = R"(
  const seen = () => [...document.querySelectorAll(".card")].filter((c) => !c.hidden)
    .map((c) => c.querySelector("b").textContent).join(",");
  const type = (text) => { search.value = text; search.dispatchEvent(new Event("input")); };
  const press = (key) => document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
  const told = [];
)";
constexpr const char* kTell = R"(document.getElementById("told").textContent = told.join("|");)";

TEST(ShelfPage, SearchesAsOneTypes) {
  EXPECT_EQ(inBrowser(shelfPage("t", cards()), std::string(kSeen) + R"(
    told.push(seen());
    type("CAFE"); told.push(seen());
    type("oil rain"); told.push(seen());
    type("nothing of it"); told.push(seen() + document.getElementById("count").textContent);
    press("Escape"); told.push(seen() === "" ? "empty" : search.value);
  )" + kTell,
                      "1280,800"),
            "evening,caf\xc3\xa9,dusk&lt;/script&gt;&lt;b&gt;|caf\xc3\xa9|evening|0 of 3|");
}

TEST(ShelfPage, TagsAreClickedTogether) {
  EXPECT_EQ(inBrowser(shelfPage("t", cards()), std::string(kSeen) + R"(
    const tag = (word) => [...document.querySelectorAll("#labels button")].find((b) => b.textContent.startsWith(word));
    tag("oil").click(); told.push(seen());
    tag("Posters").click(); told.push(seen());
    tag("Posters").click(); tag("oil").click(); tag("look").click(); told.push(seen());
    told.push(tag("look").getAttribute("aria-pressed"));
  )" + kTell,
                      "1280,800"),
            "evening,caf\xc3\xa9|evening|dusk&lt;/script&gt;&lt;b&gt;|true");
}

TEST(ShelfPage, IsUsedFromTheKeyboard) {
  EXPECT_EQ(inBrowser(shelfPage("t", cards()), std::string(kSeen) + R"(
    document.body.focus();
    press("/"); told.push(document.activeElement.id);
    press("ArrowDown"); press("ArrowRight");
    told.push(document.activeElement.querySelector("b").textContent);
    document.activeElement.click();
    told.push(dialog.open, document.getElementById("one-option").textContent);
    dialog.close(); told.push(dialog.open);
  )" + kTell,
                      "1280,800"),
            "search|caf\xc3\xa9|true|--after caf\xc3\xa9|false");
}

TEST(ShelfPage, DrawsOnlyPicturesThatAreNear) {
  std::vector<ShelfCard> many(2000, cards()[0]);
  EXPECT_EQ(inBrowser(shelfPage("t", many), std::string(kSeen) + R"(
    setTimeout(() => {
      const drawn = document.querySelectorAll(".card img").length;
      told.push(drawn > 10, drawn < 500, document.documentElement.scrollWidth <= innerWidth);
  )" + std::string(kTell) + "}, 300);",
                      "1280,800"),
            "true|true|true");
}

}  // namespace
}  // namespace jugendstil
