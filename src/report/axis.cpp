// SPDX-License-Identifier: Apache-2.0
#include "report/axis.h"

#include <algorithm>
#include <cmath>

namespace jugendstil {

double roundedUp(double value) {
  const double power = std::pow(10, std::floor(std::log10(std::max(value, 1e-12))));
  for (const double step : {1.0, 2.0, 5.0}) {
    if (value <= step * power * (1 + 1e-9)) return step * power;
  }
  return 10 * power;
}

std::vector<double> roundNumbers(double low, double high, int most, bool whole) {
  if (!(high > low)) return {low};
  double step = roundedUp((high - low) / (most - 1));
  if (whole) step = std::max(1.0, step);
  // Ends that are not round leave room for one step less.
  const auto count = [&](double by) { return std::floor(high / by + 1e-9) - std::ceil(low / by - 1e-9) + 1; };
  while (count(step) > most) step = roundedUp(step * 1.01);
  std::vector<double> numbers;
  const auto first = static_cast<long>(std::ceil(low / step - 1e-9));
  for (long i = 0; i < static_cast<long>(count(step)); ++i)
    numbers.push_back(static_cast<double>(first + i) * step);
  return numbers;
}

}  // namespace jugendstil
