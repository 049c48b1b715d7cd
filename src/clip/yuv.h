// SPDX-License-Identifier: Apache-2.0
// Between libav's frames and Image. Our own: zimg takes a tenth of the time, but half of its values differ in
// their last bit, and a painting begun from another last bit is another painting.
#pragma once

#include "clip/av.h"
#include "clip/clip.h"
#include "image/image.h"

namespace jugendstil {

// A decoded frame as display-encoded RGB. YUV by the matrix, range and chroma position that the frame, or
// else the tags, name; chroma is interpolated linearly. Untagged frames are BT.709 from 720 lines on and
// BT.601 below, as players take them. Grey, packed, planar and RGB layouts of any depth. Throws Error for
// layouts without pixels (hardware frames).
Image imageOf(const AVFrame& frame, const ColourTags& tags);

// The reverse, into a frame whose format, size and colour fields are set and whose buffers are writable:
// planar 4:2:0 YUV (chroma at the left, averaged), planar RGB deeper than 8 bits, or packed BGR0. Codes are
// rounded.
void fillFrame(AVFrame& frame, const Image& image);

// The matrix that an unspecified one stands for.
int matrixFor(int matrix, int height);

}  // namespace jugendstil
