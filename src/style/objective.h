// SPDX-License-Identifier: Apache-2.0
// The whole of what a painting is judged by, with its gradient.
#pragma once

#include <array>
#include <memory>
#include <optional>
#include <vector>

#include "image/planes.h"
#include "network/evaluator.h"
#include "style/content.h"
#include "style/layout.h"
#include "style/measure.h"
#include "style/surface.h"

namespace jugendstil {

struct ObjectiveWeights {
  double style = 1.0;
  double content = 1.0;
  double colour = 0.3;
  double smoothLightness = 0.8;
  double smoothChroma = 4.0;
  double range = 10.0;
  std::vector<double> emphasis;  // one per style, relative; their sum counts as 1
};

// Each term as it enters the total, weights included.
struct LossTerms {
  double style = 0;
  double content = 0;
  double colour = 0;
  double smoothness = 0;
  double range = 0;
  double held = 0;
  double more = 0;  // style of places that are looked at by themselves as well
  double total() const { return style + content + colour + smoothness + range + held + more; }
};

// A picture that the painting is held to, pixel by pixel: in film, the frame before as the motion carries it
// (Ruder, Dosovitskiy & Brox 2016).
struct Held {
  Planes opponent;
  std::vector<float> strength;  // of each pixel, 0 (free) to 1
};

class Objective {
 public:
  struct Style {
    std::size_t band;
    std::unique_ptr<Measure> measure;
  };
  struct Colour {
    std::unique_ptr<ColourTerm> term;
    double share;  // of all of them together, which is 1
  };

  // The evaluator fixes the picture's size and must keep the style bands and the content band.
  Objective(Evaluator& evaluator, std::vector<Style> styles, std::unique_ptr<Content> content,
            std::size_t contentBand, std::vector<Colour> colours, ObjectiveWeights weights);

  // Value and gradient for a picture in opponent planes; the gradient is overwritten. The picture is turned
  // to RGB and back while it is looked at, so that a large one is not needed twice: it comes back the same to
  // rounding. The step picks what is drawn at random; equal steps give equal values.
  LossTerms evaluate(Planes& picture, std::uint64_t step, Planes& gradient);

  // What is remembered from step to step, into a file or out of it.
  void exchange(StateExchange& with);

  // More styles beside those there are always, with what they count (1 is all of those); none takes them
  // away.
  void setMore(std::vector<Style> styles, std::vector<double> weights);

  // Another drawing to keep, with its weight; the evaluator has just seen it.
  void setContent(std::unique_ptr<Content> content, double weight);

  // A layout to keep beside it, with its weight; it counts as content, too. None is kept at first.
  void setLayout(LayoutTerm layout, double weight);

  // Adds weight times the mean over pixels of strength times squared distance, both pictures halved and
  // softened: forms and colours are held, while the finest grain, which no motion carries whole, stays free
  // to be painted anew. Throws Error for another size.
  void setHeld(const Held& held, double weight);

 private:
  double heldDistance(const Planes& picture, Planes& gradient);

  Evaluator& evaluator_;
  std::vector<Style> styles_;
  std::vector<double> styleWeights_;  // one per style
  std::size_t always_;                // of them, the first ones are there always
  std::unique_ptr<Content> content_;
  std::size_t contentBand_;
  std::vector<Colour> colours_;
  ObjectiveWeights weights_;
  std::optional<LayoutTerm> layout_;
  double layoutWeight_ = 0;
  // At half the size.
  std::array<std::vector<float>, 3> held_;
  std::vector<float> heldStrength_;
  double heldWeight_ = 0;
};

}  // namespace jugendstil
