// SPDX-License-Identifier: Apache-2.0
#include "style/content.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/gradient.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

Planes rgbPlanes(const Image& image) {
  Planes p(image.width, image.height);
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) p.plane[c][i] = image.pixels[i * 3 + c];
  }
  return p;
}

void forward(Evaluator& e, const Planes& p) { e.forward(p.plane[0], p.plane[1], p.plane[2]); }

class EveryContent : public testing::TestWithParam<ContentKind> {};

TEST_P(EveryContent, IsNothingForThePhotoItself) {
  const Chain chain = testing_support::smallChain();
  Evaluator evaluator(chain, 64, 48, Precision::full, {1});
  const Planes photo = rgbPlanes(sample(64, 48));
  forward(evaluator, photo);
  const auto content = makeContent(GetParam(), evaluator, 1, 3);
  EXPECT_LT(content->value(evaluator), 1e-6);
  forward(evaluator, rgbPlanes(sample(64, 48, 9)));
  EXPECT_GT(content->value(evaluator), 0.02);
}

TEST_P(EveryContent, GradientMatchesFiniteDifferences) {
  const Chain chain = testing_support::smallChain();
  Evaluator evaluator(chain, 40, 32, Precision::full, {1});
  forward(evaluator, rgbPlanes(sample(40, 32)));
  const auto content = makeContent(GetParam(), evaluator, 1, 3);
  const Planes p = rgbPlanes(sample(40, 32, 5));
  const auto value = [&](const Planes& at) {
    forward(evaluator, at);
    return content->value(evaluator);
  };
  value(p);
  Planes gradient(40, 32);
  evaluator.backward([&](std::size_t, BandGradient& sink) { content->addGradient(1.0, sink); },
                     gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  testing_support::expectGradient(value, p, gradient, 1e-3F, 0.03);
}

TEST_P(EveryContent, GradientByWeightsMatchesToo) {
  const Chain chain = testing_support::smallChain();
  Evaluator evaluator(chain, 40, 32, Precision::full, {1});
  std::vector<float> weights(evaluator.shape(1).positions());
  for (std::size_t i = 0; i < weights.size(); ++i) weights[i] = static_cast<float>(i % 5);
  forward(evaluator, rgbPlanes(sample(40, 32)));
  const auto content = makeContent(GetParam(), evaluator, 1, 3, weights);
  const auto plain = makeContent(GetParam(), evaluator, 1, 3);
  const Planes p = rgbPlanes(sample(40, 32, 5));
  const auto value = [&](const Planes& at) {
    forward(evaluator, at);
    return content->value(evaluator);
  };
  EXPECT_GT(value(p), 1.3 * plain->value(evaluator));
  Planes gradient(40, 32);
  evaluator.backward([&](std::size_t, BandGradient& sink) { content->addGradient(1.0, sink); },
                     gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  testing_support::expectGradient(value, p, gradient, 1e-3F, 0.03);
}

INSTANTIATE_TEST_SUITE_P(Contents, EveryContent,
                         testing::Values(ContentKind::structure, ContentKind::features),
                         [](const auto& info) { return nameOf(info.param); });

TEST(Structure, LetsContrastGo) {
  // Halving a band's contrast leaves its cosines as they are; features sees it.
  const Chain chain = testing_support::smallChain();
  Evaluator evaluator(chain, 64, 48, Precision::full, {1});
  const Image photo = sample(64, 48);
  forward(evaluator, rgbPlanes(photo));
  const auto structure = makeContent(ContentKind::structure, evaluator, 1, 3);
  const auto features = makeContent(ContentKind::features, evaluator, 1, 3);
  Image pale = photo;
  for (float& v : pale.pixels) v = 0.5F + 0.5F * (v - 0.5F);
  forward(evaluator, rgbPlanes(pale));
  const double paleStructure = structure->value(evaluator);
  const double paleFeatures = features->value(evaluator);
  forward(evaluator, rgbPlanes(sample(64, 48, 9)));
  EXPECT_LT(paleStructure / structure->value(evaluator),
            0.7 * paleFeatures / features->value(evaluator) + 0.35);
}

TEST(Content, UnknownNameListsTheNames) {
  const std::string said = testing_support::complaint([] { contentFromName("edges"); });
  EXPECT_NE(said.find("\"edges\""), std::string::npos) << said;
  for (const char* name : {"structure", "features"}) {
    EXPECT_EQ(nameOf(contentFromName(name)), name);
    EXPECT_NE(said.find(name), std::string::npos) << said;
  }
}

}  // namespace
}  // namespace jugendstil
