// SPDX-License-Identifier: Apache-2.0
// Whose colours a painting has: a setting of paint and of weave.
#pragma once

#include "recipe/setting_values.h"

namespace jugendstil {

enum class Palette {
  reference,
  photo,           // painted with references in the photo's colours
  photoChroma,     // the painting's lightness with the photo's chroma
  photoLightness,  // the painting's chroma with the photo's lightness
  photoHue         // the painting's lightness and strength of colour with the photo's hues
};

inline const Choices<Palette> kPalettes{{"reference", Palette::reference},
                                        {"photo", Palette::photo},
                                        {"photo-chroma", Palette::photoChroma},
                                        {"photo-lightness", Palette::photoLightness},
                                        {"photo-hue", Palette::photoHue}};
inline constexpr const char* kPaletteWords = "reference|photo|photo-chroma|photo-lightness|photo-hue";

}  // namespace jugendstil
