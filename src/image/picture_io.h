// What reading and writing picture files share; for src/image only.
#pragma once

#include <OpenImageIO/imageio.h>

#include <memory>
#include <string>

#include "image/depth.h"

namespace jugendstil {

struct Metadata {
  OIIO::ParamValueList attributes;
};

// The first line of what a library reported.
std::string firstLine(std::string text);

// The file, looked over for damage that decoders pass over in silence, and opened; its first picture has
// pixels and no more than a gigapixel. Throws Error.
std::unique_ptr<OIIO::ImageInput> openPicture(const std::filesystem::path& path);

Depth depthOf(OIIO::TypeDesc format);

// Empty where there is none.
std::string iccOf(const OIIO::ImageSpec& spec);

// Attributes that may travel to a picture of another size, orientation, depth or colour space.
std::shared_ptr<const Metadata> keepMetadata(const OIIO::ImageSpec& spec);

// What a file of this extension stores for a picture of this depth.
OIIO::TypeDesc storedType(const std::string& extension, Depth depth);

// How files of this extension are compressed.
void setCompression(OIIO::ImageSpec& spec, const std::string& extension);

}  // namespace jugendstil
