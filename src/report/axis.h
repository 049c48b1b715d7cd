// SPDX-License-Identifier: Apache-2.0
// Round numbers along an axis.
#pragma once

#include <vector>

namespace jugendstil {

// From `low` to `high`, both included where they are round: multiples of 1, 2 or 5 times a power of ten, as
// many as there can be of at most `most` (2 or more); with `whole` no fractions. One number where the ends
// are one.
std::vector<double> roundNumbers(double low, double high, int most, bool whole = false);

// The least of 1, 2 or 5 times a power of ten that is not below a value above 0.
double roundedUp(double value);

}  // namespace jugendstil
