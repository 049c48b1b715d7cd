// SPDX-License-Identifier: Apache-2.0
// Text and pictures put onto a report's page.
#pragma once

#include <string>
#include <vector>

#include "image/image.h"
#include "report/page.h"

namespace jugendstil {

// Writes one line with its base line's left end at (x, y); size in pixels. Throws Error where no font is
// installed.
void writeText(Image& page, int x, int y, const std::string& words, int size, const Rgb& colour);

// How wide the words would be written, pixels. Throws as writeText does.
int textWidth(const std::string& words, int size);

// The words in lines of at most `width` pixels, broken at spaces; a longer word has a line of its own.
std::vector<std::string> brokenText(const std::string& words, int size, int width);

// The end of the words, with "..." before it where not all of them fit into `width` pixels: file names differ
// at their ends.
std::string fittedText(const std::string& words, int size, int width);

// The picture reduced in linear light (never enlarged) to fit the cell, and centred in it.
void placeFitted(Image& page, const Image& picture, int x, int y, int width, int height);

}  // namespace jugendstil
