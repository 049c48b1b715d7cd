// SPDX-License-Identifier: Apache-2.0
// Picture files: PNG, JPEG, TIFF, WebP and OpenEXR with their depth, profile and metadata.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

#include "image/depth.h"
#include "image/image.h"

namespace jugendstil {

// What a file says of itself besides its pixels (EXIF, XMP, IPTC, resolution); opaque.
struct Metadata;

struct Picture {
  Image image;  // display-encoded sRGB, RGB or RGBA, upright
  Depth depth = Depth::eight;
  std::string profile;  // name of the profile converted from; empty where the file had none
  std::shared_ptr<const Metadata> metadata;
};

// Reads a picture, turns it upright by its EXIF orientation and brings it to display-encoded sRGB: by its
// ICC profile where it has one, from linear light where it is OpenEXR, as it stands otherwise. Grey becomes
// RGB; channels beyond RGBA are left out. Throws Error for a missing, unreadable, empty, truncated, or
// monstrously large file (over 1 gigapixel) and for pixels that are not numbers, DiskError where the disk
// fails.
Picture readPicture(const std::filesystem::path& path);

// Writes atomically in the format of the extension. PNG and TIFF take 8 or 16 bits, JPEG and WebP 8,
// OpenEXR half floats in linear light. The profile written is sRGB (none in OpenEXR, which says so by
// itself); metadata, where given, is carried over. 8-bit values are rounded. JPEG drops alpha.
// Throws UsageError for an unknown extension, Error where the folder is missing, DiskError where the disk is
// full. An encoding that is given goes before the depth.
void writePicture(const std::filesystem::path& path, const Image& image, Depth depth,
                  const Metadata* metadata = nullptr, const Encoding& encoding = {});

// Throws UsageError where the format of this name cannot hold what is asked.
void requireEncoding(const std::filesystem::path& path, const Encoding& encoding);

// A PNG file's bytes, 8 or 16 bits, in sRGB with its profile. Throws Error.
std::string encodedPng(const Image& image, Depth depth);

// A JPEG file's bytes, 8 bits without its profile, which is sRGB; the alpha is left out. Quality 1 to 100.
// Throws Error.
std::string encodedJpeg(const Image& image, int quality);

// The pixels of what encodedJpeg made. Throws Error where it is something else.
Image decodedJpeg(std::string_view bytes);

// The pixels of what encodedPng made. Throws Error where it is something else, or damaged.
Image decodedPng(std::string_view bytes);

// The picture turned and mirrored as an EXIF orientation (1 to 8) asks; 6 and 8 undo each other, the others
// themselves.
Image reoriented(const Image& image, int orientation);

// Whether the extension is one that writePicture knows.
bool isPictureName(const std::filesystem::path& path);

// Throws UsageError where it is not.
void requireWritableName(const std::filesystem::path& path);

}  // namespace jugendstil
