// SPDX-License-Identifier: Apache-2.0
#include "bare_convolutions.h"

#include <algorithm>
#include <chrono>
#include <cstring>
#include <dnnl.hpp>

#include "network/places.h"

namespace bench {
namespace {

using dnnl::memory;
using Type = memory::data_type;
using Tag = memory::format_tag;

constexpr int kRuns = 9;
constexpr double kNever = 1e9;

memory zeroed(const memory::desc& description, const dnnl::engine& engine) {
  memory m(description, engine);
  std::memset(m.get_data_handle(), 0, description.get_size());
  return m;
}

template <typename Run>
double best(const Run& run) {
  double least = kNever;
  for (int i = 0; i < kRuns; ++i) {
    const auto begin = std::chrono::steady_clock::now();
    run();
    least = std::min(least, std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
  }
  return least;
}

// How long one layer takes, forward and back; more than any other where the library has no such algorithm.
double one(const jugendstil::Convolution& conv, memory::dim width, memory::dim height, Type type,
           dnnl::algorithm how, const dnnl::engine& engine) {
  dnnl::stream stream(engine);
  const memory::dim k = conv.kernel;
  const memory::dims before(2, conv.before());
  const memory::dims after(2, k - 1 - conv.before());
  const memory::dims strides(2, conv.stride);
  const memory::desc x({1, conv.inputs, height, width}, type, Tag::any);
  const memory::desc w({conv.outputs, conv.inputs, k, k}, type, Tag::any);
  const memory::desc b({conv.outputs}, Type::f32, Tag::x);
  const memory::desc y({1, conv.outputs, height / conv.stride, width / conv.stride}, type, Tag::any);
  const bool mayBeEmpty = how != dnnl::algorithm::convolution_direct;
  const dnnl::convolution_forward::primitive_desc forward(
      dnnl::convolution_forward::desc(dnnl::prop_kind::forward_training, how, x, w, b, y, strides, before,
                                      after),
      engine, mayBeEmpty);
  if (!forward) return kNever;
  const dnnl::convolution_backward_data::primitive_desc backward(
      dnnl::convolution_backward_data::desc(how, x, w, y, strides, before, after), engine, forward,
      mayBeEmpty);
  if (!backward) return kNever;
  const auto source = zeroed(forward.src_desc(), engine);
  const auto weights = zeroed(forward.weights_desc(), engine);
  const auto bias = zeroed(forward.bias_desc(), engine);
  const auto target = zeroed(forward.dst_desc(), engine);
  const auto sourceGradient = zeroed(backward.diff_src_desc(), engine);
  const auto backwardWeights = zeroed(backward.weights_desc(), engine);
  const auto targetGradient = zeroed(backward.diff_dst_desc(), engine);
  dnnl::convolution_forward f(forward);
  dnnl::convolution_backward_data g(backward);
  return best([&] {
           f.execute(stream, {{DNNL_ARG_SRC, source},
                              {DNNL_ARG_WEIGHTS, weights},
                              {DNNL_ARG_BIAS, bias},
                              {DNNL_ARG_DST, target}});
           stream.wait();
         }) +
         best([&] {
           g.execute(stream, {{DNNL_ARG_DIFF_SRC, sourceGradient},
                              {DNNL_ARG_WEIGHTS, backwardWeights},
                              {DNNL_ARG_DIFF_DST, targetGradient}});
           stream.wait();
         });
}

}  // namespace

BareTime bareConvolutions(const jugendstil::Chain& chain, int width, int height,
                          jugendstil::Precision precision) {
  const dnnl::engine engine(dnnl::engine::kind::cpu, 0);
  BareTime bare;
  const std::vector<jugendstil::LayerPlace> places = jugendstil::placesOf(chain);
  for (std::size_t i = 0; i < places.size(); ++i) {
    const jugendstil::Convolution& conv = chain.convolutions[i];
    const int across = places[i].stride / conv.stride;  // pixels per position of its input
    const Type type = precision == jugendstil::Precision::half ? Type::bf16 : Type::f32;
    const auto timed = [&](dnnl::algorithm how) {
      return one(conv, width / across, height / across, type, how, engine);
    };
    const double direct = timed(dnnl::algorithm::convolution_direct);
    bare.direct += direct;
    bare.fastest += std::min(direct, timed(dnnl::algorithm::convolution_winograd));
  }
  return bare;
}

}  // namespace bench
