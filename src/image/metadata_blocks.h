// SPDX-License-Identifier: Apache-2.0
// The metadata of JPEG and PNG files as the bytes that stand in them, so that a photo's EXIF, XMP and profile
// reach its graded copy unchanged, maker's notes included. Our own, because the libraries that write EXIF
// write it anew: tags that they do not know are lost, and offsets inside makers' notes point nowhere.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace jugendstil {

// Empty where the file has none. exif begins with its TIFF header, without JPEG's "Exif" prefix.
struct MetadataBlocks {
  std::string exif;
  std::string xmp;
  std::string icc;
};

// From a whole JPEG or PNG file; nothing from any other.
MetadataBlocks metadataBlocksOf(std::string_view file);

// Puts these blocks into a JPEG or PNG file in place of its own, without touching its pixels. The file is
// changed where it lies, and is damaged where that fails on the way: it is to be a temporary one. Throws
// Error where a block is too long for the format, or the file is neither, and DiskError.
void putMetadataBlocks(const std::filesystem::path& file, const MetadataBlocks& blocks);

}  // namespace jugendstil
