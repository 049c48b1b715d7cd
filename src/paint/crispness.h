// SPDX-License-Identifier: Apache-2.0
// Edges as crisp as the references'.
#pragma once

#include <vector>

#include "image/image.h"
#include "paint/regions.h"

namespace jugendstil {

// A painting (RGB) whose strong edges are drawn together (image/edges.h) until they are about as narrow as
// those of the references in the size that they have beside it: where patches of brush-work overlap they
// come out a fifth wider, and the inks of a print run into one another. As it is where they are narrow
// enough, or where painting or references have no strong edges.
Image crispened(Image painting, const std::vector<Region>& regions, double stroke);

}  // namespace jugendstil
