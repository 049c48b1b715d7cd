#include "image/animated_picture.h"

#include <fmt/format.h>

#include "base/atomic_file.h"
#include "base/error.h"
#include "image/picture_io.h"

namespace jugendstil {

void writeGif(const std::filesystem::path& path, int count, int framesPerSecond,
              const std::function<Image(int)>& frame) {
  AtomicFile file(path);
  const auto output = OIIO::ImageOutput::create("gif");
  if (!output) throw Error(fmt::format("cannot write {}: this installation writes no GIF", path.string()));
  const auto fail = [&] {
    throw Error(
        fmt::format("cannot write {}: {}; is the disk full?", path.string(), firstLine(output->geterror())));
  };
  int width = 0;
  int height = 0;
  for (int i = 0; i < count; ++i) {
    const Image image = frame(i);
    if (i > 0 && (image.width != width || image.height != height))
      throw Error(fmt::format("frame {} of {} has another size than the first", i, path.string()));
    width = image.width;
    height = image.height;
    OIIO::ImageSpec spec(width, height, 3, OIIO::TypeDesc::UINT8);
    const int rate[2] = {framesPerSecond, 1};
    spec.attribute("FramesPerSecond", OIIO::TypeRational, rate);
    const auto mode = i == 0 ? OIIO::ImageOutput::Create : OIIO::ImageOutput::AppendSubimage;
    if (!output->open(file.temporary().string(), spec, mode)) fail();
    if (!output->write_image(OIIO::TypeDesc::FLOAT, image.pixels.data())) fail();
  }
  if (!output->close()) fail();
  file.commit();
}

}  // namespace jugendstil
