// SPDX-License-Identifier: Apache-2.0
// A net at one size of picture: forward to a picture, backward to its parameters.
#pragma once

#include <memory>
#include <span>
#include <vector>

#include "image/image.h"
#include "image/planes.h"
#include "learn/net.h"

namespace jugendstil {

// Not thread-safe; it uses all OpenMP threads itself. Equal parameters, pictures and number of threads give
// equal bytes.
class NetPass {
 public:
  enum class Use {
    painting,  // layers share memory; there is no way back
    learning,
  };

  // The net must live as long; its parameters may change between passes. Its picture and its last layer have
  // three channels. Throws Error where the net is not sound, or a side is no multiple of its largest shrink.
  NetPass(const Net& net, int width, int height, Use use);
  ~NetPass();
  NetPass(NetPass&&) noexcept;

  // Planes about 0 (display-encoded RGB less a half), of this size.
  const Planes& forward(const Planes& picture);

  // The same of a photo (display-encoded RGB) whose corner lies there, mirrored into what is around it. The
  // painting of the photo's size, in [0, 1]. Throws Error where the photo does not lie within.
  Image paint(const Image& photo, int left, int top);

  // Mean and variance of each channel at each normalisation, in the order of the layers: those of the last
  // picture.
  const std::vector<float>& moments() const;
  // From now on these are taken whatever the picture: within a shot, nothing pumps. Empty: each picture's own
  // again. Throws Error where there are more or fewer.
  void holdMoments(std::vector<float> moments);

  // After forward, with the gradient with respect to its planes: adds the gradient with respect to all
  // parameters.
  void backward(const Planes& gradient, std::span<float> parameterGradient);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace jugendstil
