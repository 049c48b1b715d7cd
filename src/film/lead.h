// SPDX-License-Identifier: Apache-2.0
// What the frames before say of a frame.
#pragma once

#include "image/image.h"

namespace jugendstil {

// What a frame begins with and is held to: the frames before, as motion carries them.
struct Lead {
  Image picture;    // RGB, of the painted size
  Image known;      // 1 channel: 0 where the photo has to be begun with, 1 where the picture can be
  Image strength;   // 1 channel: how far it holds the frame; less on motion boundaries and where it is new
                    // itself
  Image canvas{};   // of the frame before, its margin included and carried along; may be empty
  Image fresh{};    // 1 channel: 1 where nothing is painted yet, less where it has to ripen; may be empty
  Image before{};   // the clip's frame before, carried along, RGB of any size; empty: colours are free
  Image settled{};  // 1 channel: how far coarse colours stay as they were; may be empty
};

}  // namespace jugendstil
