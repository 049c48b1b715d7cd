// SPDX-License-Identifier: Apache-2.0
#include "image/layered_reader.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/zip.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::distance;
using testing_support::messageOf;
using testing_support::sample;
using testing_support::TemporaryFolder;

// As another program may write it: a stack of our own words.
void writeStack(const std::filesystem::path& file, const std::string& stack) {
  ZipWriter zip(file, file.string());
  zip.add("mimetype", "image/openraster");
  zip.add("data/a.png", encodedPng(sample(60, 40, 1), Depth::eight));
  zip.add("data/small.png", encodedPng(sample(20, 10, 2), Depth::eight));
  zip.add("stack.xml", "<?xml version='1.0' encoding='UTF-8'?><image w='60' h='40'>" + stack + "</image>");
  zip.finish();
}

TEST(LayeredReader, WhatWasWrittenComesBack) {
  const TemporaryFolder folder;
  const std::vector<PictureLayer> layers{{"the <photo>", sample(60, 40)},
                                         {"painting", sample(60, 40, 2, 4), BlendMode::softLight, 0.75},
                                         {"hidden", sample(60, 40, 3), BlendMode::normal, 1, false}};
  writeOpenRaster(folder / "a.ora", layers, sample(60, 40), Depth::sixteen);
  const LayeredPicture back = readOpenRaster(folder / "a.ora");
  EXPECT_EQ(back.width, 60);
  EXPECT_EQ(back.height, 40);
  EXPECT_EQ(back.depth, Depth::sixteen);
  ASSERT_EQ(back.layers.size(), 3U);
  for (std::size_t i = 0; i < 3; ++i) {
    EXPECT_EQ(back.layers[i].name, layers[i].name);
    EXPECT_EQ(back.layers[i].blend, layers[i].blend);
    EXPECT_EQ(back.layers[i].opacity, layers[i].opacity);
    EXPECT_EQ(back.layers[i].visible, layers[i].visible);
    EXPECT_LT(distance(back.layers[i].image, layers[i].image), 1e-4);
  }
}

TEST(LayeredReader, SmallLayersLieWhereTheyAreAndPlainGroupsAreTakenApart) {
  const TemporaryFolder folder;
  writeStack(folder / "a.ora",
             "<stack><stack name='group'><layer name='small' src='data/small.png' x='50' y='-5'/></stack>"
             "<stack name='off' visibility='hidden'><layer src='data/a.png'/></stack>"
             "<layer name='all' src='data/a.png' opacity='0.5'/></stack>");
  const LayeredPicture picture = readOpenRaster(folder / "a.ora");
  ASSERT_EQ(picture.layers.size(), 2U);
  EXPECT_EQ(picture.layers[0].name, "all");
  EXPECT_EQ(picture.layers[0].opacity, 0.5);
  const Image& small = picture.layers[1].image;
  ASSERT_EQ(small.channels, 4);
  EXPECT_EQ(small.at(49, 2, 3), 0);
  EXPECT_EQ(small.at(50, 2, 3), 1);
  EXPECT_EQ(small.at(55, 5, 3), 0);
  EXPECT_NEAR(small.at(52, 2, 1), sample(20, 10, 2).at(2, 7, 1), 0.003F);
}

TEST(LayeredReader, WhatItCannotDoIsSaid) {
  const TemporaryFolder folder;
  const auto refusal = [&](const std::string& stack) {
    writeStack(folder / "a.ora", stack);
    return messageOf<Error>([&] { readOpenRaster(folder / "a.ora"); });
  };
  EXPECT_NE(refusal("<stack><layer name='x' src='data/a.png' composite-op='svg:plus'/></stack>")
                .find("\"x\" is laid by svg:plus; there are normal, multiply"),
            std::string::npos);
  EXPECT_NE(refusal("<stack><stack name='g' opacity='0.5'><layer src='data/a.png'/></stack></stack>")
                .find("merge it"),
            std::string::npos);
  EXPECT_NE(refusal("<stack><layer src='data/gone.png'/></stack>").find("data/gone.png is missing"),
            std::string::npos);
  EXPECT_NE(refusal("<stack></stack>").find("no layers"), std::string::npos);
  EXPECT_NE(refusal("<stack><layer").find("damaged"), std::string::npos);
  EXPECT_THROW(readOpenRaster(folder / "none.ora"), Error);
}

}  // namespace
}  // namespace jugendstil
