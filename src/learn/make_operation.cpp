// SPDX-License-Identifier: Apache-2.0
#include "learn/make_operation.h"

#include "learn/blocked_layout.h"
#include "learn/convolving.h"
#include "learn/mirroring.h"
#include "learn/normalising.h"
#include "learn/plain_operations.h"

namespace jugendstil {
namespace {

Layout targetOf(const NetLayer& layer, const Layout& source, const Blocking& blocking) {
  const auto side = [&](int length) {
    return layer.kind == NetLayer::Kind::enlarging ? 2 * length : length / layer.stride;
  };
  return blockedLayout(layer.outputs, side(source.width), side(source.height), blocking);
}

}  // namespace

std::unique_ptr<Operation> makeOperation(const NetLayer& layer, const Layout& source,
                                         const Blocking& blocking) {
  const Layout target = targetOf(layer, source, blocking);
  switch (layer.kind) {
    case NetLayer::Kind::convolution:
      if (!layer.mirrored) return makeConvolving(layer, source, target, blocking);
      return makeMirroring(layer, source,
                           makeConvolving(layer, paddedLayout(layer, source), target, blocking));
    case NetLayer::Kind::normalisation:
    case NetLayer::Kind::scaling:
      return makeNormalising(layer, source);
    case NetLayer::Kind::enlarging:
      return makeEnlarging(layer, source, target);
    case NetLayer::Kind::sum:
      return makeAdding(layer, source);
    case NetLayer::Kind::bounded:
      return makeBounding(source);
  }
  return nullptr;
}

}  // namespace jugendstil
