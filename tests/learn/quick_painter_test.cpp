// SPDX-License-Identifier: Apache-2.0
#include "learn/quick_painter.h"

#include <gtest/gtest.h>

#include "learn/painter_file.h"
#include "learn/quick_painting.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::distance;
using testing_support::refusal;
using testing_support::sample;
using testing_support::TemporaryFolder;

const AffineColourMap kTurned{{{{0, 1, 0}, {1, 0, 0}, {0, 0, 0.5}}}, {0, 0.1, 0.25}};

QuickPainter painter() {
  QuickPainter p;
  p.net = painterNet(3);
  p.colours = kTurned;
  p.settings.painting.likeness = 35;
  p.settings.painting.trim = 0.25;
  p.settings.longEdge = 320;
  p.references = {{sample(40, 60, 1), 3}, {sample(1700, 20, 2), 1}};
  return p;
}

TEST(QuickPainter, ComesBackWithAllThatItWasLearnedFrom) {
  const TemporaryFolder folder;
  writeQuickPainter(folder / "oil.painter.onnx", painter(), "recipe = 1");
  const QuickPainter back = readQuickPainter(folder / "oil.painter.onnx");
  EXPECT_EQ(back.net.parameters, painter().net.parameters);
  EXPECT_EQ(back.settings.painting.likeness, 35);
  EXPECT_EQ(back.settings.longEdge, 320);
  for (std::size_t to = 0; to < 3; ++to) {
    EXPECT_NEAR(back.colours.offset[to], kTurned.offset[to], 1e-6);
    for (std::size_t from = 0; from < 3; ++from)
      EXPECT_NEAR(back.colours.matrix[to][from], kTurned.matrix[to][from], 1e-6);
  }
  // Frames are cut off once; what is larger than brush-work needs is reduced.
  ASSERT_EQ(back.references.size(), 2U);
  EXPECT_EQ(back.references[0].share, 3);
  EXPECT_EQ(back.settings.painting.trim, 0);
  const Image kept = crop(painter().references[0].image, 10, 15, 20, 30);
  ASSERT_EQ(back.references[0].image.width, 20);
  ASSERT_EQ(back.references[0].image.height, 30);
  EXPECT_LT(distance(back.references[0].image, kept), 1e-5);
}

// What other programs paint with is the file as it stands: photos in the colours of what was learned.
TEST(QuickPainter, OtherProgramsPaintInItsColours) {
  const TemporaryFolder folder;
  writeQuickPainter(folder / "oil.painter.onnx", painter(), "");
  const Painter file = readPainter(folder / "oil.painter.onnx");
  const Image photo = sample(64, 48);
  const Image theirs = QuickPainting(file.net, {64, 48}).paint(photo);
  const QuickPainter back = readQuickPainter(folder / "oil.painter.onnx");
  const Image ours = QuickPainting(back.net, {64, 48}).paint(recoloured(photo, back.colours));
  EXPECT_LT(distance(theirs, ours), 1e-8);
  EXPECT_GT(distance(theirs, QuickPainting(back.net, {64, 48}).paint(photo)), 1e-4);
}

TEST(QuickPainter, APainterOfAnotherProgramHasNoReferences) {
  const TemporaryFolder folder;
  writePainter(folder / "other.onnx", {painterNet(2), {}});
  const QuickPainter other = readQuickPainter(folder / "other.onnx");
  EXPECT_TRUE(other.references.empty());
  EXPECT_EQ(other.net.parameters, painterNet(2).parameters);
}

TEST(QuickPainter, SaysWhatIsDamaged) {
  const TemporaryFolder folder;
  writeQuickPainter(folder / "oil.painter.onnx", painter(), "");
  const auto answerTo = [&](const char* note, const char* text) {
    Painter file = readPainter(folder / "oil.painter.onnx");
    if (text == nullptr)
      file.notes.erase(note);
    else
      file.notes[note] = text;
    writePainter(folder / "damaged.onnx", file);
    return refusal([&] { readQuickPainter(folder / "damaged.onnx"); });
  };
  EXPECT_NE(answerTo("jugendstil.references", "-1").find("the number of its references is damaged"),
            std::string::npos);
  EXPECT_NE(answerTo("jugendstil.references", "1e9").find("damaged"), std::string::npos);
  EXPECT_NE(answerTo("jugendstil.reference_2.png", nullptr).find("reference 2 is missing"),
            std::string::npos);
  EXPECT_NE(answerTo("jugendstil.reference_1.share", "0").find("share of reference 1"), std::string::npos);
  EXPECT_NE(answerTo("jugendstil.reference_1.png", "Zm9v").find("is no PNG; learn it again"),
            std::string::npos);
  EXPECT_NE(answerTo("jugendstil.reference_1.png", "Zm9").find("cut short"), std::string::npos);
  EXPECT_NE(answerTo("jugendstil.likeness", "much").find("likeness"), std::string::npos);
}

}  // namespace
}  // namespace jugendstil
