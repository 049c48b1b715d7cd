// SPDX-License-Identifier: Apache-2.0
// Every picture format on a disk that is full at every place of the file.
#include "support/full_disk.h"

#include <gtest/gtest.h>

#include "base/atomic_file.h"
#include "image/animated_picture.h"
#include "image/layered_file.h"
#include "image/picture_file.h"
#include "image/stored_picture.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::expectFullDiskIsTold;
using testing_support::sample;
using testing_support::TemporaryFolder;

class FullDisk : public testing::TestWithParam<const char*> {};

TEST_P(FullDisk, IsToldOfAPicture) {
  const Image picture = sample(160, 120);
  expectFullDiskIsTold(GetParam(), [&](const auto& file) { writePicture(file, picture, Depth::sixteen); });
}

TEST_P(FullDisk, IsToldOfAPictureInStrips) {
  const StoredPicture picture = StoredPicture::of(sample(160, 120));
  expectFullDiskIsTold(GetParam(), [&](const auto& file) {
    StripWriter writer(file, picture, ProfileChoice::keep);
    for (int y = 0; y < 120; y += 40) writer.write(picture.rows(y, 40));
    writer.finish();
  });
}

INSTANTIATE_TEST_SUITE_P(Formats, FullDisk, testing::Values("a.png", "a.jpg", "a.tif", "a.webp", "a.exr"));

// With metadata that is put in afterwards.
TEST(FullDisk, IsToldOfMetadata) {
  const TemporaryFolder folder;
  writePicture(folder / "with.jpg", sample(120, 90), Depth::eight);
  MetadataBlocks blocks;
  blocks.exif = std::string("II*\0\x08\0\0\0\0\0\0\0\0\0", 14);
  blocks.xmp = std::string(9000, 'x');
  putMetadataBlocks(folder / "with.jpg", blocks);
  const StoredPicture picture = StoredPicture::read(folder / "with.jpg");
  ASSERT_EQ(picture.blocks().xmp.size(), 9000U);
  expectFullDiskIsTold("a.jpg", [&](const auto& file) {
    StripWriter writer(file, picture, ProfileChoice::keep);
    writer.write(picture.rows(0, 90));
    writer.finish();
  });
}

TEST(FullDisk, IsToldOfAGif) {
  expectFullDiskIsTold("a.gif", [](const auto& file) {
    writeGif(file, 3, 12, [](int frame) { return sample(120, 90, static_cast<unsigned>(frame)); });
  });
}

TEST(FullDisk, IsToldOfLayers) {
  const Image picture = sample(60, 50, 1, 4);
  expectFullDiskIsTold("a.ora", [&](const auto& file) {
    writeOpenRaster(file, {{"one", picture}}, picture, Depth::eight);
  });
}

TEST(FullDisk, IsToldOfText) {
  expectFullDiskIsTold("a.toml",
                       [](const auto& file) { writeFileAtomically(file, std::string(10000, 'x')); });
}

}  // namespace
}  // namespace jugendstil
