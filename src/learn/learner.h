// SPDX-License-Identifier: Apache-2.0
// A painter's net that learns references on photos.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "learn/net.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "paint/easel.h"
#include "paint/settings.h"
#include "solver/adam.h"

namespace jugendstil {

// A photo, or a frame of a film, as somebody has painted it. RGB, display-encoded, both of one format.
struct PaintedExample {
  Image photo;
  Image painting;
};

struct LearnInputs {
  std::vector<Image> photos;               // RGB, display-encoded; any size of at least 64 pixels a side
  std::vector<PaintReference> references;  // with their shares
  std::vector<PaintedExample> examples{};
};

struct LearnSettings {
  PaintSettings painting;  // likeness, stroke, palette, emphasis, measure, content, trim, seed
  int longEdge = 640;      // at which photos will be painted: strokes have their size for it
  int side = 256;          // of the square pieces of photos that it learns on
  int steps = 2000;
};

// The net is judged by the objective of paintings, on one piece of a photo a step (Johnson, Alahi & Fei-Fei
// 2016), and by how little its painting changes where the piece is shifted and grained: what hangs on such
// things flickers in films (Ruder, Dosovitskiy & Brox 2018). Where there are examples, every second step is
// on one of them, and is judged by how near it comes to the painting, in drawing and in colours (Texler et
// al. 2020). Same inputs, settings, processor and number of threads give the same bytes.
class Learner {
 public:
  // The chain must live as long. Throws UsageError and Error as paintBasis and planPainting do, and Error for
  // photos that are too small.
  Learner(const Chain& chain, const LearnInputs& inputs, const LearnSettings& settings);
  ~Learner();

  // One step of settings.steps, over which its size falls. Loss before it.
  LossTerms step();
  int stepsDone() const;

  const Net& net() const;

  // All that the next step depends on, into a file or out of it.
  void exchange(StateExchange& with);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace jugendstil
