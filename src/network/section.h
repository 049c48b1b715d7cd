// SPDX-License-Identifier: Apache-2.0
// A chain cut at some of its pools: each run of layers between two cuts can go over a whole picture by
// itself.
#pragma once

#include <cstddef>
#include <vector>

#include "network/chain.h"
#include "network/evaluator.h"

namespace jugendstil {

struct Section {
  Chain chain;                      // its layers and bands as a chain of their own
  std::vector<std::size_t> bands;   // which bands of the whole chain these are
  int stride = 1;                   // pixels of the picture for one position of its input
  int reach = 0;                    // pixels around a part of the picture that it must see to be right there
  Pooling handsOn = Pooling::none;  // how its last output is pooled that goes on to the section after it

  bool pooled() const { return handsOn != Pooling::none; }

  // Pixels for one position of what it hands on, or of its last output; of its coarsest output.
  int lastStride() const;
  int coarsestStride() const;
  // Multiplications for one pixel of the picture, one way.
  double work() const;
  // Bytes of its evaluator on a window of so many pixels of the picture, as Evaluator::memoryFor.
  std::size_t memory(int width, int height, Precision precision) const;
  // Bytes of what it hands on of a picture of so many pixels.
  std::size_t pooledMemory(int width, int height, Precision precision) const;
};

// Layers that may begin a section: they pool 2x2 positions, and none from there on names one before.
std::vector<std::size_t> cutsOf(const Chain& chain);

// `cuts` are layers that pool their input, in order: each begins a section. The last section ends with the
// deepest of the bands asked for.
std::vector<Section> sectionsOf(const Chain& chain, const std::vector<std::size_t>& bands,
                                const std::vector<std::size_t>& cuts);

}  // namespace jugendstil
