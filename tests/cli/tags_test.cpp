// SPDX-License-Identifier: Apache-2.0
// What files say of themselves: the photo's own tags, and no other program's.
#include <gtest/gtest.h>

#include "clip/clip.h"
#include "image/metadata_blocks.h"
#include "image/picture_file.h"
#include "image/segments.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::sample;
using Words = std::vector<std::string>;

class Tags : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.jpg", sample(60, 44), Depth::eight);
    // A camera's maker, "Ostermoor", little-endian.
    std::string exif("II*\0\x08\0\0\0\x01\0\x0F\x01\x02\0\x0A\0\0\0\x1A\0\0\0\0\0\0\0Ostermoor\0", 36);
    putMetadataBlocks(folder / "photo.jpg", {exif, "", ""});
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  }
  void run(const Words& words) const {
    const auto r = testing_support::runProgram(words, folder.path);
    EXPECT_EQ(r.code, 0) << r.err;
  }
  void expectClean(const std::string& name) const {
    const std::string content = contentOf(folder / name);
    for (const char* theirs :
         {"oiio:", "OpenImageIO", "Exif:", "x264", "Lavf5", "Lavc5", "libvpx", "FlashPix"})
      EXPECT_EQ(content.find(theirs), std::string::npos) << name << " has " << theirs;
  }
  testing_support::TemporaryFolder folder;
};

TEST_F(Tags, PicturesHaveThePhotosAndNoneOfThePrograms) {
  for (const char* extension : {".png", ".jpg", ".tif", ".webp", ".exr"}) {
    const std::string graded = std::string("graded") + extension;
    const std::string painted = std::string("painted") + extension;
    run({"grade", "photo.jpg", "--after", "ref.png", "-o", graded, "-q"});
    run({"paint", "photo.jpg", "--after", "ref.png", "--steps", "1", "--levels", "1", "--brushwork=no", "-o",
         painted, "-q"});
    for (const std::string& name : {graded, painted}) {
      expectClean(name);
      const bool keeps = std::string(extension) != ".webp";  // whose writer has no tags
      EXPECT_EQ(contentOf(folder / name).find("Ostermoor") != std::string::npos, keeps) << name;
    }
  }
  // In a PNG it is EXIF as the standard has it.
  EXPECT_NE(metadataBlocksOf(contentOf(folder / "painted.png")).exif.find("Ostermoor"), std::string::npos);
  EXPECT_EQ(readPicture(folder / "painted.png").profile, readPicture(folder / "painted.tif").profile);
}

TEST_F(Tags, TextsOfAPngAreThoseThatPngHasNamesFor) {
  run({"mask", "photo.jpg", "--tones", "50..100", "-o", "mask.png", "-q"});
  run({"compare", "photo.jpg", "photo.jpg", "-o", "both.png", "-q"});
  for (const char* name : {"mask.png", "both.png"}) {
    expectClean(name);
    const std::string content = contentOf(folder / name);
    for (const FileSegment& chunk : pngChunks(content))
      EXPECT_FALSE(chunk.kind == "tEXt" || chunk.kind == "iTXt" || chunk.kind == "zTXt") << name;
  }
}

TEST_F(Tags, FilmsDoNotNameTheirEncoder) {
  testing_support::ClipRecipe clip;
  clip.frames = 3;
  testing_support::writeClip(folder / "clip.mkv", clip, testing_support::gliding(64, 48, 1, 0));
  for (const char* name : {"film.mp4", "film.mov", "film.mkv", "film.webm"}) {
    run({"film", "clip.mkv", "--grade", "--after", "ref.png", "-o", name, "-q"});
    expectClean(name);
    EXPECT_EQ(openClip((folder / name).string())->info().times.size(), 3U) << name;
  }
}

}  // namespace
}  // namespace jugendstil
