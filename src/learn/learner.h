// SPDX-License-Identifier: Apache-2.0
// A painter's net that learns references on photos or on a clip.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "learn/net.h"
#include "learn/settings.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "paint/easel.h"
#include "solver/adam.h"

namespace jugendstil {

// A photo, or a frame of a film, as somebody has painted it. RGB, display-encoded, both of one format.
struct PaintedExample {
  Image photo;
  Image painting;
};

// Two frames of a clip, one after the other. RGB, display-encoded, of one size.
struct FramePair {
  Image before;
  Image frame;
};

struct LearnInputs {
  std::vector<Image> photos;               // RGB, display-encoded; any size of at least 64 pixels a side
  std::vector<PaintReference> references;  // with their shares
  std::vector<PaintedExample> examples{};
  std::vector<FramePair> pairs{};  // beside the photos, or without any
  // What it begins with, of painterNet()'s layers, such as a general painter's for these references. Without
  // layers: weights drawn from the seed.
  Net first{};
};

// The side of the pieces that it will learn on: settings.side, or less where photos are small. Throws Error
// for photos that are too small.
int sideOfPieces(const LearnInputs& inputs, const LearnSettings& settings);

// Bytes that learning holds at its peak, to about a quarter.
std::size_t memoryToLearn(const Chain& chain, const LearnInputs& inputs, const LearnSettings& settings);

// The net is judged by the objective of paintings, on one piece of a photo a step (Johnson, Alahi & Fei-Fei
// 2016), and by how little its painting changes where the piece is shifted and grained, or in a pair as the
// frame before is carried along the motion: what hangs on such things flickers in films (Ruder, Dosovitskiy &
// Brox 2018). Where there are examples, every second step is on one of them, and is judged by how near it
// comes to the painting, in drawing and in colours (Texler et al. 2020). Same inputs, settings, processor and
// number of threads give the same bytes.
class Learner {
 public:
  // The chain must live as long. Throws UsageError and Error as paintBasis and planPainting do, and Error for
  // photos that are too small.
  Learner(const Chain& chain, const LearnInputs& inputs, const LearnSettings& settings);
  ~Learner();

  // One step of settings.steps, over which its size falls. Loss before it.
  LossTerms step();
  int stepsDone() const;

  // Paints drawings: photos in the references' colours, as drawingOf gives them.
  const Net& net() const;

  // What all photos together would be recoloured by. With it as the net's first layer it paints photos
  // as they come.
  const AffineColourMap& colours() const;

  // All that the next step depends on, into a file or out of it.
  void exchange(StateExchange& with);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace jugendstil
