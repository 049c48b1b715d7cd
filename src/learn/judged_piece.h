// SPDX-License-Identifier: Apache-2.0
// A piece that a painter's net has painted, judged as paintings are.
#pragma once

#include <cstdint>

#include "image/planes.h"
#include "paint/easel.h"

namespace jugendstil {

struct JudgedPiece {
  LossTerms loss;
  Planes slope;  // of the loss with respect to what the net made, its margin included, where it is 0
};

// `painted` is square, about 0, with kPieceMargin around what is judged by the easel, which has that size.
// Chroma is held smoother than in paintings that are optimised. Equal draws give equal values.
JudgedPiece judgedPiece(const Planes& painted, Easel& easel, std::uint64_t draw);

}  // namespace jugendstil
