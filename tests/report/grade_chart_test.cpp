// SPDX-License-Identifier: Apache-2.0
#include "report/grade_chart.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

GradeChart chart() {
  GradeChart c;
  c.photo = sample(300, 200, 1);
  c.photoName = "photo.jpg";
  c.reference = sample(200, 300, 2);
  c.referenceName = "reference.jpg";
  c.result = sample(300, 200, 3);
  c.resultName = "result.jpg";
  return c;
}

// Pixels of the columns [from, to) that differ.
int differing(const Image& a, const Image& b, int from, int to) {
  int count = 0;
  for (int y = 0; y < a.height; ++y) {
    for (int x = from; x < to; ++x) count += a.at(x, y, 0) != b.at(x, y, 0) ? 1 : 0;
  }
  return count;
}

TEST(GradeChart, EachPartIsDrawnFromItsOwnData) {
  const Image page = gradeChart(chart());
  EXPECT_EQ(page.width, 1600);
  GradeChart changed = chart();
  changed.look.curve = {{0.0F, 0.0F}, {0.4F, 0.7F}, {1.0F, 1.0F}};
  const Image curve = gradeChart(changed);
  EXPECT_EQ(differing(page, curve, 0, 1230), 0);
  EXPECT_GT(differing(page, curve, 1230, 1600), 500);
  changed = chart();
  changed.reference = sample(200, 300, 7);
  const Image reference = gradeChart(changed);
  EXPECT_EQ(differing(page, reference, 0, 430), 0);
  EXPECT_GT(differing(page, reference, 430, 820), 2000);
  EXPECT_EQ(differing(page, reference, 830, 1600), 0);
  changed = chart();
  changed.closeness = Closeness{0.1, 0.02, 12, 3};
  EXPECT_GT(differing(page, gradeChart(changed), 1230, 1600), 500);
}

TEST(GradeChart, GoesWithoutAReference) {
  GradeChart c = chart();
  c.reference = Image();
  EXPECT_GT(differing(gradeChart(chart()), gradeChart(c), 430, 820), 2000);
}

}  // namespace
}  // namespace jugendstil
