// SPDX-License-Identifier: Apache-2.0
// Makes the demo's pictures: make_demo references DIR | make_demo photo RENDER.png OUT.jpg|png SEED
// [faded|crisp|vivid|flat] | make_demo clip RENDERS DIR
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <string>

#include "base/error.h"
#include "image/picture_file.h"
#include "pictures.h"

int main(int count, char** words) {
  using jugendstil::Depth;
  using jugendstil::writePicture;
  const std::string what = count > 1 ? words[1] : "";
  try {
    if (what == "references" && count == 3) {
      const std::filesystem::path folder = words[2];
      writePicture(folder / "evening_impasto.jpg", demo::paintImpasto(), Depth::eight);
      writePicture(folder / "sun_lily_mosaic.jpg", demo::layMosaic(), Depth::eight);
      writePicture(folder / "moon_linocut.jpg", demo::cutLino(), Depth::eight);
      writePicture(folder / "lily_poster.jpg", demo::printPoster(), Depth::eight);
      writePicture(folder / "moor_wash.jpg", demo::washMoor(), Depth::eight);
      return 0;
    }
    if (what == "clip" && count == 4) {
      demo::finishClip(words[2], words[3]);
      return 0;
    }
    if (what == "photo" && (count == 5 || count == 6)) {
      const auto render = jugendstil::readPicture(words[2]);
      writePicture(words[3],
                   demo::photographed(render.image, static_cast<unsigned>(std::atoi(words[4])),
                                      count == 6 ? words[5] : ""),
                   Depth::eight);
      return 0;
    }
  } catch (const jugendstil::Error& e) {
    std::fprintf(stderr, "make_demo: %s\n", e.what());
    return 1;
  }
  std::fprintf(stderr,
               "usage: make_demo references DIR | make_demo photo RENDER OUT SEED [faded|crisp|vivid|flat] | "
               "make_demo clip RENDERS DIR\n");
  return 2;
}
