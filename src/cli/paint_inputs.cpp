// SPDX-License-Identifier: Apache-2.0
#include "cli/paint_inputs.h"

#include <algorithm>
#include <filesystem>

#include "base/checksum.h"
#include "base/file_name.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "image/contours.h"
#include "image/faces.h"
#include "image/mask.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "paint/frame.h"

namespace jugendstil::cli {
namespace {

Image readMask(RecipeInput& input, const Image& photo, bool quiet) {
  knowFile(input, "mask", quiet);
  return readMaskFor(input.path, photo.width, photo.height);
}

}  // namespace

PaintReference readReference(RecipeInput& input, double trim, bool quiet) {
  knowFile(input, "reference", quiet);
  PaintReference reference{rgbOf(readPicture(input.path).image), input.share};
  if (!quiet) noteFrame(input, reference.image, trim);
  return reference;
}

void noteFrame(const RecipeInput& input, const Image& reference, double trim) {
  if (trim < 0 && frameOf(reference).found())
    say(stderr, "note: the frame around {} is left out; --trim 0 keeps it\n", input.path.filename().string());
}

void readParts(std::vector<RecipePart>& parts, std::optional<RecipeMask>& mask, const ReferenceReader& read,
               bool quiet, PaintInputs& inputs) {
  std::vector<std::filesystem::path> masks;
  for (RecipePart& part : parts) {
    const auto known = std::find(masks.begin(), masks.end(), part.mask.path);
    const std::size_t i = known - masks.begin();
    if (known == masks.end()) {
      masks.push_back(part.mask.path);
      inputs.parts.push_back({readMask(part.mask, inputs.photo, quiet), {}});
    } else {
      part.mask.checksum = fileChecksum(part.mask.path);
    }
    inputs.parts[i].references.push_back(read(part.reference));
  }
  if (!mask) return;
  inputs.inside = readMask(mask->file, inputs.photo, quiet);
  if (!mask->inside) inputs.inside = inverted(std::move(inputs.inside));
}

void readHolds(std::vector<RecipeHold>& holds, const std::string& photo, bool quiet, PaintInputs& inputs) {
  for (RecipeHold& hold : holds) {
    if (hold.mask) {
      inputs.held.push_back({readMask(*hold.mask, inputs.photo, quiet), hold.likeness});
      continue;
    }
    const std::vector<Face> faces = facesIn(inputs.photo);
    if (!faces.empty()) {
      inputs.held.push_back({maskOfFaces(inputs.photo, faces), hold.likeness});
    } else if (!quiet) {
      say(stderr, "note: no face was found in {}, so none is held; a mask can be drawn: --hold MASK={}\n",
          photo, hold.likeness);
    }
  }
}

void readLines(std::optional<RecipeInput>& drawn, std::optional<RecipeInput>& inside, bool quiet,
               PaintInputs& inputs) {
  if (inside) inputs.linesInside = readMask(*inside, inputs.photo, quiet);
  if (!drawn) return;
  if (extensionOf(drawn->path) == ".svg") {
    inputs.drawnLines = readMask(*drawn, inputs.photo, quiet);
    return;
  }
  knowFile(*drawn, "drawing", quiet);
  inputs.drawnLines = inkOfDrawing(readPicture(drawn->path).image);
  requireFormat(drawn->path, inputs.drawnLines, inputs.photo.width, inputs.photo.height);
}

Image withAlphaOf(const Image& photo, const Image& painting) {
  if (photo.channels != 4) return painting;
  const Image alpha = resizePhoto(photo, painting.width, painting.height);
  Image out(painting.width, painting.height, 4);
  for (std::size_t i = 0; i < out.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) out.pixels[i * 4 + c] = painting.pixels[i * 3 + c];
    out.pixels[i * 4 + 3] = std::clamp(alpha.pixels[i * 4 + 3], 0.0F, 1.0F);
  }
  return out;
}

}  // namespace jugendstil::cli
