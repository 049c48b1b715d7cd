// SPDX-License-Identifier: Apache-2.0
#include "image/layered_file.h"

#include <archive.h>
#include <archive_entry.h>
#include <gtest/gtest.h>

#include <map>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::sample;
using testing_support::TemporaryFolder;

struct Entries {
  std::vector<std::string> names;
  std::map<std::string, std::string> content;
};

Entries entriesOf(const std::filesystem::path& file) {
  Entries all;
  archive* a = archive_read_new();
  archive_read_support_format_zip(a);
  EXPECT_EQ(archive_read_open_filename(a, file.c_str(), 4096), ARCHIVE_OK);
  archive_entry* entry = nullptr;
  while (archive_read_next_header(a, &entry) == ARCHIVE_OK) {
    const std::string name = archive_entry_pathname(entry);
    std::string content(static_cast<std::size_t>(archive_entry_size(entry)), '\0');
    EXPECT_EQ(archive_read_data(a, content.data(), content.size()), static_cast<la_ssize_t>(content.size()));
    all.names.push_back(name);
    all.content[name] = content;
  }
  archive_read_free(a);
  return all;
}

std::vector<PictureLayer> twoLayers() {
  Image above = sample(60, 40, 2, 4);
  return {{"the <photo>", sample(60, 40)}, {"painting", above, BlendMode::softLight, 0.75}};
}

TEST(OpenRaster, HoldsTheLayersFromTheTopAndComesBackWhole) {
  const TemporaryFolder folder;
  const auto layers = twoLayers();
  writeOpenRaster(folder / "a.ora", layers, sample(60, 40, 3), Depth::sixteen);
  const Entries entries = entriesOf(folder / "a.ora");
  // The type comes first and as it is, so that other programs know the file by its beginning.
  ASSERT_FALSE(entries.names.empty());
  EXPECT_EQ(entries.names.front(), "mimetype");
  EXPECT_NE(contentOf(folder / "a.ora").substr(0, 100).find("image/openraster"), std::string::npos);
  const std::string& stack = entries.content.at("stack.xml");
  EXPECT_LT(stack.find("name=\"painting\""), stack.find("name=\"the &lt;photo>\""));
  EXPECT_NE(stack.find("composite-op=\"svg:soft-light\" opacity=\"0.75\""), std::string::npos);
  EXPECT_NE(stack.find("w=\"60\" h=\"40\""), std::string::npos);
  testing_support::writeContent(folder / "layer.png", entries.content.at("data/layer2.png"));
  const Picture back = readPicture(folder / "layer.png");
  EXPECT_EQ(back.depth, Depth::sixteen);
  for (std::size_t i = 0; i < back.image.pixels.size(); ++i)
    ASSERT_NEAR(back.image.pixels[i], layers[1].image.pixels[i], 1e-4F);
  EXPECT_EQ(entries.content.count("mergedimage.png"), 1U);
  EXPECT_EQ(entries.content.count("Thumbnails/thumbnail.png"), 1U);
}

TEST(OpenRaster, EqualPicturesGiveEqualFiles) {
  const TemporaryFolder folder;
  writeOpenRaster(folder / "a.ora", twoLayers(), sample(60, 40, 3), Depth::eight);
  writeOpenRaster(folder / "b.ora", twoLayers(), sample(60, 40, 3), Depth::eight);
  EXPECT_EQ(contentOf(folder / "a.ora"), contentOf(folder / "b.ora"));
}

TEST(OpenRaster, WhatCannotBeWrittenLeavesNothing) {
  const TemporaryFolder folder;
  EXPECT_THROW(writeOpenRaster(folder / "a.zip", twoLayers(), sample(60, 40), Depth::eight), UsageError);
  EXPECT_THROW(writeOpenRaster(folder / "a.ora", {}, sample(60, 40), Depth::eight), Error);
  EXPECT_THROW(writeOpenRaster(folder / "a.ora", twoLayers(), sample(50, 40), Depth::eight), Error);
  EXPECT_THROW(writeOpenRaster(folder / "missing" / "a.ora", twoLayers(), sample(60, 40), Depth::eight),
               Error);
  EXPECT_TRUE(testing_support::filesIn(folder.path).empty());
}

}  // namespace
}  // namespace jugendstil
