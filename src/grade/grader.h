// Looks put on pictures of any size, strip by strip.
#pragma once

#include <functional>
#include <optional>

#include "grade/detail.h"
#include "grade/look.h"
#include "image/blend.h"
#include "image/stored_picture.h"

namespace jugendstil {

inline constexpr int kStripRows = 128;

struct LayerSettings {
  double opacity = 1;
  BlendMode blend = BlendMode::normal;
  // Where the grade shows: first channel, any size, stretched over the picture. Stands as the picture is
  // stored.
  std::optional<Image> mask;
};

class Grader {
 public:
  // `reduced` (reducedPicture) of the picture that will be graded; only used where the look changes detail.
  Grader(const Look& look, const Image& reduced);

  // Rows [begin, begin + strip.height) of a picture of that height, in place; alpha is left alone. Strips of
  // any height give the same picture.
  void apply(Image& strip, int begin, int height) const;

 private:
  TableApplier table_;
  std::optional<DetailMap> detail_;
};

// The graded row over the original one: blend mode, then opacity and mask. Normal blending mixes in linear
// light, the other modes in display values as their specification has it.
class Layer {
 public:
  // For a picture of this size. Throws Error for an empty mask picture.
  Layer(LayerSettings settings, int width, int height);

  // Whether the graded picture simply replaces the original.
  bool plain() const;
  // below: original strip, above: graded strip, changed in place.
  void combine(const Image& below, Image& above, int begin) const;

 private:
  LayerSettings settings_;
  int height_;
};

// Called with rows done and rows in all; false stops.
using RowProgress = std::function<bool(int, int)>;

// Grades a whole stored picture into a writer. Returns false where progress asked to stop.
bool gradePicture(const StoredPicture& picture, const Grader& grader, const Layer& layer, StripWriter& writer,
                  const RowProgress& progress = {});

}  // namespace jugendstil
