// SPDX-License-Identifier: Apache-2.0
// What OpenImageIO says of a picture, in a message between processes; for src/image only.
#pragma once

#include <OpenImageIO/imageio.h>

#include "helper/packing.h"

namespace jugendstil {

// Size, channels, type and attributes of numbers, texts and bytes.
void pack(Packer& to, const OIIO::ImageSpec& spec);

// Throws Error where that is not what was packed.
OIIO::ImageSpec unpackedSpec(Unpacker& from);

}  // namespace jugendstil
