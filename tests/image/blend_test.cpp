// SPDX-License-Identifier: Apache-2.0
#include "image/blend.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"

namespace jugendstil {
namespace {

using Rgb = std::array<float, 3>;

void expectColour(const Rgb& got, const Rgb& wanted) {
  for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(got[c], wanted[c], 1e-5F) << c;
}

// Worked by hand from the specification's formulas.
TEST(Blend, SeparableModes) {
  const Rgb below{0.2F, 0.5F, 0.8F};
  const Rgb above{0.4F, 0.6F, 0.25F};
  expectColour(blended(BlendMode::normal, below, above), above);
  expectColour(blended(BlendMode::multiply, below, above), {0.08F, 0.3F, 0.2F});
  expectColour(blended(BlendMode::screen, below, above), {0.52F, 0.8F, 0.85F});
  expectColour(blended(BlendMode::overlay, below, above), {0.16F, 0.6F, 0.7F});
  expectColour(blended(BlendMode::hardLight, below, above), {0.16F, 0.6F, 0.4F});
  expectColour(blended(BlendMode::darken, below, above), {0.2F, 0.5F, 0.25F});
  expectColour(blended(BlendMode::lighten, below, above), {0.4F, 0.6F, 0.8F});
  expectColour(blended(BlendMode::colourDodge, below, above), {0.2F / 0.6F, 1, 0.8F / 0.75F > 1 ? 1 : 0});
  expectColour(blended(BlendMode::colourBurn, below, above), {0, 1 - 0.5F / 0.6F, 1 - 0.2F / 0.25F});
  expectColour(blended(BlendMode::difference, below, above), {0.2F, 0.1F, 0.55F});
  expectColour(blended(BlendMode::exclusion, below, above), {0.44F, 0.5F, 0.65F});
  expectColour(blended(BlendMode::softLight, below, above),
               {0.168F, 0.5F + 0.2F * (std::sqrt(0.5F) - 0.5F), 0.72F});
}

float luminosity(const Rgb& c) { return 0.3F * c[0] + 0.59F * c[1] + 0.11F * c[2]; }

TEST(Blend, ColourModesKeepTheLuminosityTheyShould) {
  const Rgb below{0.3F, 0.5F, 0.6F};
  const Rgb above{0.7F, 0.4F, 0.35F};
  for (const BlendMode mode : {BlendMode::hue, BlendMode::saturation, BlendMode::colour}) {
    EXPECT_NEAR(luminosity(blended(mode, below, above)), luminosity(below), 1e-5F);
  }
  EXPECT_NEAR(luminosity(blended(BlendMode::luminosity, below, above)), luminosity(above), 1e-5F);
  expectColour(blended(BlendMode::saturation, {0.5F, 0.5F, 0.5F}, above), {0.5F, 0.5F, 0.5F});
}

TEST(Blend, NamesComeBackAndTyposListAllModes) {
  for (const std::string& name : blendModeNames()) EXPECT_EQ(blendModeName(blendModeOf(name)), name);
  try {
    blendModeOf("softlight");
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("soft-light"), std::string::npos);
  }
}

}  // namespace
}  // namespace jugendstil
