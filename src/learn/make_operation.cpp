// SPDX-License-Identifier: Apache-2.0
#include "learn/make_operation.h"

#include "learn/blocked_layout.h"
#include "learn/convolving.h"
#include "learn/normalising.h"
#include "learn/plain_operations.h"

namespace jugendstil {

std::unique_ptr<Operation> makeOperation(const NetLayer& layer, const Layout& source, int block) {
  switch (layer.kind) {
    case NetLayer::Kind::convolution:
      return makeConvolving(
          layer, source,
          blockedLayout(layer.outputs, source.width / layer.stride, source.height / layer.stride, block));
    case NetLayer::Kind::normalisation:
      return makeNormalising(layer, source);
    case NetLayer::Kind::enlarging:
      return makeEnlarging(source, blockedLayout(layer.outputs, 2 * source.width, 2 * source.height, block));
    case NetLayer::Kind::sum:
      return makeAdding(source);
  }
  return nullptr;
}

}  // namespace jugendstil
