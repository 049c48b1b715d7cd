// SPDX-License-Identifier: Apache-2.0
// Faces in photos.
#pragma once

#include <vector>

#include "image/image.h"

namespace jugendstil {

// A face with forehead and chin, in the photo's pixels.
struct Face {
  double x = 0;  // its middle
  double y = 0;
  double size = 0;  // its height
};

// Faces that look at the camera, upright, at least a 24th of the photo's shorter side high; the largest
// first. By boosted cascades (Viola & Jones 2001; Lienhart & Maydt 2002). Throws Error where the file of the
// cascade is missing.
std::vector<Face> facesIn(const Image& photo);

// A mask of the photo's size with an oval over each face, a little larger than it and soft over a sixth of
// it; black all over where there is none.
Image maskOfFaces(const Image& photo, const std::vector<Face>& faces);

}  // namespace jugendstil
