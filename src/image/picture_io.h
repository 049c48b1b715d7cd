// SPDX-License-Identifier: Apache-2.0
// What reading and writing picture files share; for src/image only.
#pragma once

#include <OpenImageIO/imageio.h>

#include <filesystem>
#include <memory>
#include <string>

#include "image/depth.h"
#include "image/image.h"

namespace jugendstil {

struct Metadata {
  OIIO::ParamValueList attributes;
};

// Throws Error that names the first pixel that is not a number. `firstRow` is the rows' place in the picture.
void requireNumbers(const Image& rows, int firstRow, const std::filesystem::path& path);

Depth depthOf(OIIO::TypeDesc format);

// Empty where there is none.
std::string iccOf(const OIIO::ImageSpec& spec);

// Attributes that may travel to a picture of another size, orientation, depth or colour space.
std::shared_ptr<const Metadata> keepMetadata(const OIIO::ImageSpec& spec);

// What a file of this extension stores for a picture of this depth, or for the one that was asked for. Throws
// UsageError where the format cannot hold that.
OIIO::TypeDesc storedType(const std::string& extension, Depth depth, const Encoding& encoding);

// Whether an attribute of this name comes from EXIF, GPS, IPTC or XMP, and is no word to a writer.
bool isOfMetadata(const std::string& name);

// Without what the writers of these formats ("png", "openexr") would store under names of the library's own:
// PNG's makes a text of every word, but the format has names for a few only; OpenEXR has none for EXIF.
OIIO::ImageSpec withoutForeignTags(OIIO::ImageSpec spec, std::string_view format);

// How files of this extension are compressed.
void setCompression(OIIO::ImageSpec& spec, const std::string& extension, const Encoding& encoding);

// Keeps the library from writing the present time into files that have none: the same picture would never be
// the same file.
void leaveUndated(OIIO::ImageSpec& spec, const std::string& extension);

}  // namespace jugendstil
