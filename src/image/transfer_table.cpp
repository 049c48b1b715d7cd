// SPDX-License-Identifier: Apache-2.0
#include "image/transfer_table.h"

#include "image/colour.h"

namespace jugendstil {

TransferTable::TransferTable(float (*function)(float))
    : function_(function), values_(static_cast<std::size_t>(kSteps) + 1) {
  for (std::size_t i = 0; i < values_.size(); ++i) values_[i] = function(static_cast<float>(i) / kSteps);
}

const TransferTable& tableToLinear() {
  static const TransferTable table(srgbToLinear);
  return table;
}

const TransferTable& tableToDisplay() {
  static const TransferTable table(linearToSrgb);
  return table;
}

}  // namespace jugendstil
