// SPDX-License-Identifier: Apache-2.0
#include "learn/clip_lessons.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"

namespace jugendstil {
namespace {

Image reduced(const Image& frame, int longEdge) {
  const Size size = sizeForLongEdge(frame.width, frame.height, longEdge);
  return resizePhoto(frame, size.width, size.height);
}

}  // namespace

std::vector<FramePair> framePairs(FrameSource& clip, int pairs, int longEdge) {
  const std::int64_t last = std::ssize(clip.info().times) - 2;
  const std::int64_t count = std::min<std::int64_t>(pairs, last + 1);
  std::vector<FramePair> all;
  for (std::int64_t i = 0; i < count; ++i) {
    clip.seek(count == 1 ? last / 2 : last * i / (count - 1));
    FramePair pair;
    if (clip.read(pair.before) != FrameState::read || clip.read(pair.frame) != FrameState::read) continue;
    all.push_back({reduced(pair.before, longEdge), reduced(pair.frame, longEdge)});
  }
  if (all.empty())
    throw Error(
        fmt::format("{}: has no two frames that can be read one after the other; a painter learns "
                    "from a clip with two or more, or from photos",
                    clip.info().path.string()));
  return all;
}

Image frameOf(FrameSource& clip, std::int64_t frame) {
  const std::int64_t count = std::ssize(clip.info().times);
  if (frame < 0 || frame >= count)
    throw Error(fmt::format("{} has no frame {}; its frames are 0 to {}", clip.info().path.string(), frame,
                            count - 1));
  clip.seek(frame);
  Image picture;
  if (clip.read(picture) != FrameState::read)
    throw Error(fmt::format("{}: frame {} cannot be read", clip.info().path.string(), frame));
  return picture;
}

}  // namespace jugendstil
