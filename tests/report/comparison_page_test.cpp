// SPDX-License-Identifier: Apache-2.0
#include "report/comparison_page.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "image/picture_file.h"
#include "support/browser.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::inBrowser;
using testing_support::sample;

std::vector<NamedPicture> three() {
  return {{"photo.jpg", "", sample(300, 200, 1)},
          {"a </script> \"b\".png", "after <evening>", sample(300, 200, 2)},
          {"c.png", "", sample(300, 200, 3)}};
}

NumberTable numbers() { return {"drawing & style", {"drawing"}, {{"photo.jpg", {"0.000"}}}}; }

const char* const kTell = R"(
const told = [];
const handle = stage.querySelector(".handle");
const tell = (name) => told.push(name + " " + handle.getAttribute("aria-valuenow"));
const point = (type, kind, part, target) => {
  const box = stage.getBoundingClientRect();
  target.dispatchEvent(new PointerEvent(type, { bubbles: true, button: 0, pointerId: 7, pointerType: kind,
    clientX: box.left + box.width * part, clientY: box.top + box.height / 2 }));
};
const key = (name, shift) => handle.dispatchEvent(
  new KeyboardEvent("keydown", { key: name, shiftKey: shift === true, bubbles: true, cancelable: true }));
const drag = (kind, target) => {
  point("pointerdown", kind, 0.5, target);
  point("pointermove", kind, 0.2, target);
  tell(kind);
  point("pointerup", kind, 0.2, target);
  point("pointermove", kind, 0.9, target);
  tell(kind + " let go");
};
)";

TEST(ComparisonPage, IsWholeInItselfAndHoldsThePictures) {
  const std::string page = comparisonPage("a & b", three(), numbers());
  EXPECT_NE(page.find("<title>a &amp; b</title>"), std::string::npos);
  EXPECT_NE(page.find("drawing &amp; style"), std::string::npos);
  EXPECT_EQ(page.find("http"), std::string::npos);
  EXPECT_EQ(page.find("@TITLE@"), std::string::npos);
  // What a name says must not end the script.
  EXPECT_EQ(page.find("a </script>"), std::string::npos);
  EXPECT_EQ(comparisonPage("t", three(), {}).find("<table>"), std::string::npos);
  EXPECT_THROW(comparisonPage("t", {three()[0]}, {}), Error);
  auto mixed = three();
  mixed[1].picture = sample(200, 300);
  EXPECT_THROW(comparisonPage("t", mixed, {}), Error);
}

TEST(ComparisonPage, PicturesAreInsideWithoutLoss) {
  const auto pictures = three();
  const std::string told = inBrowser(comparisonPage("t", pictures, {}), R"(
    const image = byId("above");
    const read = () => {
      const canvas = document.createElement("canvas");
      canvas.width = image.naturalWidth;
      canvas.height = image.naturalHeight;
      const context = canvas.getContext("2d");
      context.drawImage(image, 0, 0);
      const p = context.getImageData(17, 23, 1, 1).data;
      byId("told").textContent = [canvas.width, canvas.height, p[0], p[1], p[2], image.alt].join(" ");
    };
    if (image.complete) read(); else image.addEventListener("load", read);
  )",
                                     "1280,800");
  const auto code = [&](int c) {
    return std::to_string(std::lround(255 * static_cast<double>(pictures[1].picture.at(17, 23, c))));
  };
  EXPECT_EQ(told, "300 200 " + code(0) + " " + code(1) + " " + code(2) + " a &lt;/script&gt; \"b\".png");
}

TEST(ComparisonPage, TheDividerFollowsMouseTouchAndKeys) {
  const std::string told = inBrowser(comparisonPage("t", three(), {}), std::string(kTell) + R"(
    drag("mouse", stage);
    drag("touch", handle);
    key("ArrowRight"); tell("right");
    key("ArrowLeft", true); tell("shift left");
    key("End"); tell("end");
    key("Home"); tell("home");
    key(" "); tell("space");
    key(" "); tell("space again");
    byId("told").textContent = told.join(", ");
  )",
                                     "1280,800");
  EXPECT_EQ(told,
            "mouse 20, mouse let go 20, touch 20, touch let go 20, right 21, shift left 11, end 100, home 0, "
            "space 100, space again 0");
}

TEST(ComparisonPage, SidesCanBeChosenSwappedAndSeenAtFullSize) {
  const std::string told = inBrowser(comparisonPage("t", three(), {}), std::string(kTell) + R"(
    const names = () => byId("below").alt.slice(0, 5) + " | " + byId("above").alt.slice(0, 5);
    told.push(names());
    byId("right").value = 2;
    byId("right").dispatchEvent(new Event("change"));
    told.push(names());
    byId("swap").click();
    told.push(names());
    byId("left").value = 1;
    byId("left").dispatchEvent(new Event("change"));
    told.push(byId("left-note").textContent.slice(0, 5));
    byId("size").click();
    told.push(Math.round(stage.getBoundingClientRect().width));
    point("pointerdown", "mouse", 0.1, stage);
    tell("beside the handle");
    byId("told").textContent = told.join(", ");
  )",
                                     "1280,800");
  EXPECT_EQ(told, "photo | a &lt;/s, photo | c.png, c.png | photo, after, 300, beside the handle 50");
}

TEST(ComparisonPage, FitsAPhone) {
  const std::string told =
      inBrowser(comparisonPage("a_long_name_without_any_place_to_break.png", three(), numbers()),
                R"(
    const least = [...document.querySelectorAll("select, button")].map((e) => e.getBoundingClientRect().height);
    byId("told").textContent = [document.documentElement.scrollWidth <= innerWidth,
      stage.getBoundingClientRect().right <= innerWidth, Math.min(...least) >= 44].join(" ");
  )",
                "390,844");
  EXPECT_EQ(told, "true true true");
}

TEST(ComparisonPage, ThePickersStandBelowThePicture) {
  const std::string told = inBrowser(comparisonPage("t", three(), {}), R"(
    byId("told").textContent = byId("left").getBoundingClientRect().top > stage.getBoundingClientRect().bottom;
  )",
                                     "1280,800");
  EXPECT_EQ(told, "true");
}

}  // namespace
}  // namespace jugendstil
