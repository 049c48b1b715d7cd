// SPDX-License-Identifier: Apache-2.0
// How references are painted, in numbers, and what these make of a net's normalisations.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "learn/net.h"
#include "paint/reference.h"

namespace jugendstil {

// A manner: of each channel of the finest style bands the logarithms of its mean and its deviation over the
// references, which carry a style from one network to another (Huang & Belongie 2017); and the likeness,
// from 0 to 1. So many numbers, for targets of the shipped network's bands, in their order.
std::vector<float> mannerOf(const ReferenceTargets& targets, double likeness);

// A small network of two layers from a manner to the scale and the shift of each channel at each
// normalisation of a painter's net (Ghiasi, Lee, Kudlur, Dumoulin & Shlens 2017).
struct MannerNet {
  int hidden = 0;
  std::vector<float> centre;  // is taken from each number of a manner,
  std::vector<float> spread;  // which is then divided by this
  int outputs = 0;
  std::vector<float> parameters;  // hidden x manner, hidden; outputs x hidden, outputs

  int inputs() const { return static_cast<int>(centre.size()); }
  std::size_t parameterCount() const;
};

// With weights drawn from the seed; it gives `first` yet, whatever the manner. `centre` and `spread` as
// above, of equal length.
MannerNet mannerNet(std::vector<float> centre, std::vector<float> spread, const std::vector<float>& first,
                    std::uint64_t seed);

// Where the scales and shifts of a net's normalisations stand among its parameters, in the order of the
// layers.
std::vector<std::size_t> normalisationPlaces(const Net& net);

// Forward, and backward to the parameters. A ReLU is between the layers. The net must live as long.
class MannerPass {
 public:
  explicit MannerPass(const MannerNet& net) : net_(net) {}

  // Throws Error for a manner of another length.
  const std::vector<float>& forward(std::span<const float> manner);

  // After forward, with the gradient with respect to what it gave: adds to the parameters' gradient.
  void backward(std::span<const float> gradient, std::span<float> parameterGradient) const;

 private:
  const MannerNet& net_;
  std::vector<float> input_;
  std::vector<float> hidden_;
  std::vector<float> output_;
};

}  // namespace jugendstil
