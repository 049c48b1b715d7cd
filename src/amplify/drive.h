// SPDX-License-Identifier: Apache-2.0
// What is strengthened in one band of the network, and which way up that is.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

#include "network/band.h"

namespace jugendstil {

// Which channels of a band count: these, by number from 0, or so many of those that the photo wakes most.
// With neither all do.
struct ChannelChoice {
  std::vector<int> numbers;
  int woken = 0;
};

// The band's C channels; `kept` are those that count, in rising order. `reference` is the covariance (C x C)
// of the pictures whose patterns are wanted; empty: all patterns alike.
struct BandDrive {
  std::size_t band = 0;  // into chain.bands
  double weight = 1;     // of all drives together, which is 1
  std::vector<std::size_t> kept;
  std::vector<float> reference;
};

// The channels that a choice means, for a band with these means over the photo. Throws UsageError, which
// names the band, for a channel that it does not have.
std::vector<std::size_t> keptChannels(const ChannelChoice& choice, const std::string& band,
                                      const std::vector<float>& photoMeans);

// The covariance of a band over pictures, mixed by share.
void addCovariance(const BandMoments& moments, double share, std::vector<float>& covariance);

// The matrix R (C x C, symmetric) for which R a / P is the way up for the activations a at each of P
// positions, where `gram` is their present second moment.
//
// Without a reference it is the gradient of log det(gram + e) over twice the number of channels: the mean log
// energy of the band's patterns. All of them grow in proportion to what there is of them; plain energy
// (Simonyan, Vedaldi & Zisserman 2014) lets the strongest one grow over all the others. With one, patterns
// count as much as the reference has of them.
std::vector<float> wayUp(const BandDrive& drive, const std::vector<float>& gram);

}  // namespace jugendstil
