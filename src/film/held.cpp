// SPDX-License-Identifier: Apache-2.0
#include "film/held.h"

#include "image/faces.h"

namespace jugendstil {

Likeness likenessIn(const Image& frame, double usual, const std::vector<FilmHold>& holds) {
  std::vector<HeldPart> parts;
  for (const FilmHold& hold : holds) {
    if (!hold.mask.empty()) {
      parts.push_back({hold.mask, hold.likeness});
      continue;
    }
    const std::vector<Face> faces = facesIn(frame);
    if (!faces.empty()) parts.push_back({maskOfFaces(frame, faces), hold.likeness});
  }
  return likenessWith(usual, parts, {frame.width, frame.height});
}

}  // namespace jugendstil
