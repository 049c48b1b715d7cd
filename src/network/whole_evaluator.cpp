// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <dnnl.hpp>
#include <map>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "network/convolution.h"
#include "network/evaluator_engine.h"
#include "network/kernels.h"
#include "network/large_memory.h"
#include "network/places.h"
#include "network/pointwise.h"
#include "network/pooling.h"
#include "network/second_moments.h"
#include "network/windows.h"

namespace jugendstil {
namespace {

using dnnl::memory;
using Tag = memory::format_tag;
using Type = memory::data_type;

Layout layoutOf(const memory::desc& description) {
  const auto& md = description.data;
  const auto& blocking = md.format_desc.blocking;
  Layout layout;
  layout.channels = static_cast<int>(md.dims[1]);
  layout.height = static_cast<int>(md.dims[2]);
  layout.width = static_cast<int>(md.dims[3]);
  if (blocking.inner_nblks == 1 && blocking.inner_idxs[0] == 1) {
    layout.inner = static_cast<int>(blocking.inner_blks[0]);
  } else if (blocking.inner_nblks == 0) {
    layout.inner = blocking.strides[1] == 1 && layout.channels > 1 ? layout.channels : 1;
  } else {
    throw Error("oneDNN chose a layout that this version does not know; try full precision");
  }
  layout.blocks = static_cast<int>(md.padded_dims[1]) / layout.inner;
  return layout;
}

Buffer bufferOf(const memory& m) {
  const memory::desc d = m.get_desc();
  return {m.get_data_handle(), d.data_type() == Type::bf16, layoutOf(d)};
}

// All of an activation. Where blocks of channels are of another size, what fills the last one up is cleared:
// convolutions read it.
void takeOver(const Buffer& to, const Buffer& from) {
  if (to.layout.inner != from.layout.inner) std::memset(to.data, 0, bytesOf(to));
  copyWindow({to}, {from}, to.layout.width, to.layout.height);
}

// One convolution with its ReLU, forward and backward to its input.
struct Step {
  Pooling pooling = Pooling::none;  // of the input
  PoolWindow window;
  int input = -1;  // the step whose output that is; -1 is the picture
  int plus = -1;   // the step whose output is added
  float negativeSlope = 0;
  dnnl::convolution_forward forward;
  dnnl::convolution_backward_data backward;
  memory::desc forwardScratch;
  memory::desc backwardScratch;
  memory::desc sourceDesc;
  memory weights;
  memory backwardWeights;
  memory bias;
  memory pooled;  // the input where pooled; shares storage with the other pooled inputs
  memory output;
  LargeMemory outputStorage;  // of layers that are kept: bands, and what is pooled
  Signs signs;                // of the others, whose output lies where gradients will, and of what is pooled
  LargeMemory aside;          // the gradient that layers send which name this one, where there are such
  bool sent = false;          // something has arrived there
  bool kept() const { return outputStorage != nullptr; }
};

memory overlay(const LargeMemory& storage, const memory::desc& description, const dnnl::engine& engine) {
  return memory(description, engine, storage.get());
}

memory::desc describe(memory::dim channels, memory::dim height, memory::dim width, Type type,
                      Tag tag = Tag::any) {
  return memory::desc({1, channels, height, width}, type, tag);
}

class Network final : public WholeEvaluator {
 public:
  Network(const Chain& chain, int width, int height, Precision precision, std::vector<std::size_t> bands,
          Pooling handsOn)
      : chain_(chain),
        handsOn_(handsOn),
        width_(width),
        height_(height),
        type_(precision == Precision::half ? Type::bf16 : Type::f32),
        engine_(dnnl::engine::kind::cpu, 0),
        stream_(engine_),
        bands_(std::move(bands)) {
    int deepest = handsOn_ != Pooling::none ? countOf(chain_.convolutions) - 1 : 0;
    for (const std::size_t b : bands_) {
      deepest = std::max(deepest, chain_.bands.at(b).layer);
      bandOfLayer_[chain_.bands[b].layer] = b;
      if (std::min(width, height) < chain_.bands[b].stride) {
        throw Error(
            fmt::format("a {}x{} picture is too small for the network's band {}; it needs {} pixels a side",
                        width, height, chain_.bands[b].name, chain_.bands[b].stride));
      }
    }
    buildSteps(deepest);
    // The steps have the weights in their own layouts.
    for (Convolution& conv : chain_.convolutions) conv.weights = {};
    allocateScratch();
  }

  BandShape shape(std::size_t band) const override {
    const Layout layout = layoutOf(activation(band).get_desc());
    return {layout.channels, layout.height, layout.width};
  }

  const memory& activation(std::size_t band) const { return steps_.at(chain_.bands.at(band).layer).output; }

  void forward(const ConstPlanes& planes) override {
    writeInput(planes);
    forwardInput();
  }

  Buffer input() override { return bufferOf(input_); }
  Buffer pooled() override {
    const Step& last = steps_.back();
    if (last.negativeSlope > 0)
      poolWindows(bufferOf(last.output), bufferOf(handedOn_), handsOn_, {});
    else
      poolAndSum(bufferOf(last.output), bufferOf(handedOn_), steps_.back().signs, handsOn_);
    return bufferOf(handedOn_);
  }
  Buffer pooledGradient() override { return bufferOf(overlay(gradient_[1], handedOn_.get_desc(), engine_)); }

  void forwardInput() override {
    known_.clear();
    sums_.clear();
    for (std::size_t index = 0; index < steps_.size(); ++index) {
      Step& step = steps_[index];
      const memory* source = step.input < 0 ? &input_ : &steps_[step.input].output;
      if (step.pooling != Pooling::none) {
        pool(step, static_cast<int>(index), *source);
        source = &step.pooled;
      }
      if (step.plus >= 0) takeOver(bufferOf(step.output), bufferOf(steps_[step.plus].output));
      step.forward.execute(stream_, {{DNNL_ARG_SRC, *source},
                                     {DNNL_ARG_WEIGHTS, step.weights},
                                     {DNNL_ARG_BIAS, step.bias},
                                     {DNNL_ARG_DST, step.output},
                                     {DNNL_ARG_SCRATCHPAD, scratch(index % 2, step, step.forwardScratch)}});
      if (!step.kept() && step.negativeSlope <= 0) step.signs.keep(bufferOf(step.output));
    }
    stream_.wait();
  }

  // Computed once per forward pass, however many ask.
  const BandMoments& moments(std::size_t band) override {
    const auto known = known_.find(band);
    if (known != known_.end()) return known->second;
    BandMoments m = sums(band);
    const float share = 1.0F / static_cast<float>(shape(band).positions());
    for (float& v : m.gram) v *= share;
    for (float& v : m.mean) v *= share;
    return known_.emplace(band, std::move(m)).first->second;
  }

  BandMoments sums(std::size_t band) override {
    BandMoments m;
    m.gram = secondMoments(bufferOf(activation(band)));
    const auto pooled = sums_.find(chain_.bands[band].layer);
    m.mean = pooled != sums_.end() ? pooled->second : channelSums(bufferOf(activation(band)));
    return m;
  }

  void clearOutside(std::size_t band, const Core& core) override {
    const Core inside = core.at(chain_.bands.at(band).stride);
    jugendstil::clearOutside(bufferOf(activation(band)), inside.left, inside.top, inside.right,
                             inside.bottom);
    // What pooling summed was of everything.
    sums_.erase(chain_.bands[band].layer);
    known_.erase(band);
  }

  BandMoments weightedMoments(std::size_t band, std::span<const float> weights) override;
  std::vector<float> activations(std::size_t band) override { return toDense(bufferOf(activation(band))); }
  std::vector<float> gather(std::size_t band, std::span<const int> positions) override {
    return valuesAt(bufferOf(activation(band)), positions);
  }
  KeptActivation keep(std::size_t band) override;
  double squaredDistance(std::size_t band, const KeptActivation& kept) override;

  // Room for one band's activations, made when first wanted.
  memory roomFor(std::size_t band) {
    if (!room_) {
      std::size_t most = 0;
      for (const std::size_t b : bands_) most = std::max(most, activation(b).get_desc().get_size());
      room_ = allocateLarge(most);
    }
    return memory(activation(band).get_desc(), engine_, room_.get());
  }

  std::vector<float> project(std::size_t band, std::span<const float> directions) override;
  void backward(const FillGradient& fill, const MutablePlanes& planes) override {
    toPlanes(bufferOf(run(fill, nullptr)), planes);
  }
  Buffer backwardFrom(const Core& core, const FillGradient& fill) override {
    return bufferOf(run(fill, &core));
  }
  void toPlanes(const Buffer& inputGradient, const MutablePlanes& planes) override;

  Pointwise& linear(std::size_t band, bool accumulate) {
    const auto key = std::make_pair(band, accumulate);
    auto found = linear_.find(key);
    if (found == linear_.end()) {
      const memory::desc d = activation(band).get_desc();
      found = linear_.try_emplace(key, engine_, d, d, accumulate).first;
    }
    return found->second;
  }

  Pointwise& unproject(std::size_t band, int directions, bool accumulate) {
    const auto key = std::make_tuple(band, directions, accumulate);
    auto found = unproject_.find(key);
    if (found == unproject_.end()) {
      const memory::desc d = activation(band).get_desc();
      const auto open = describe(directions, d.dims()[2], d.dims()[3], type_);
      found = unproject_.try_emplace(key, engine_, open, d, accumulate).first;
    }
    return found->second;
  }

  int width() const override { return width_; }
  int height() const override { return height_; }
  const dnnl::engine& engine() const { return engine_; }
  dnnl::stream& stream() { return stream_; }

 private:
  // The gradient back to the input; with a core, of what is filled into a band only what lies in it.
  memory run(const FillGradient& fill, const Core* core);
  // A gradient to a step that others name, until it is that one's turn; and that of a step's input, there.
  void send(Step& to, const Buffer& gradient);
  void sendBack(const Step& from, const Buffer& gradient);

  // Whether the usual way of pooling serves a step, which notes signs and sums as it goes.
  bool poolsAsUsual(const Step& step, int index) const {
    return step.input == index - 1 && step.window.size == 2 && steps_[step.input].negativeSlope <= 0;
  }

  void pool(const Step& step, int index, const memory& source) {
    if (poolsAsUsual(step, index))
      sums_[index - 1] =
          poolAndSum(bufferOf(source), bufferOf(step.pooled), steps_[step.input].signs, step.pooling);
    else
      poolWindows(bufferOf(source), bufferOf(step.pooled), step.pooling, step.window);
  }

  void buildSteps(int deepest) {
    chain_.convolutions.resize(deepest + 1);
    const std::vector<LayerUse> uses = usesOf(chain_);
    for (int i = 0; i <= deepest; ++i) {
      const Convolution& conv = chain_.convolutions[i];
      Step step;
      step.pooling = conv.pooling;
      step.window = conv.window;
      step.input = inputOf(chain_, i);
      step.plus = conv.plus;
      step.negativeSlope = conv.negativeSlope;
      memory::desc source = step.input < 0 ? describe(conv.inputs, height_, width_, type_)
                                           : steps_[step.input].output.get_desc();
      if (conv.pools()) source = pooledDesc(source, conv.window);
      buildConvolution(step, conv, source);
      LayerUse use = uses[i];
      use.band = bandOfLayer_.count(i) != 0;
      use.pooled = use.pooled || (i == deepest && handsOn_ != Pooling::none);
      if (keepsOutput(conv, use)) {
        step.outputStorage = allocateLarge(step.output.get_desc().get_size());
        step.output.set_data_handle(step.outputStorage.get());
      }
      if (use.named) step.aside = allocateLarge(step.output.get_desc().get_size());
      const bool rectifies = conv.negativeSlope <= 0;
      if (rectifies && (!step.kept() || use.pooled)) step.signs = Signs(layoutOf(step.output.get_desc()));
      if (i == 0) input_ = memory(step.sourceDesc, engine_);
      steps_.push_back(std::move(step));
    }
  }

  // Half the size in the same layout.
  memory::desc pooledDesc(const memory::desc& from, const PoolWindow& window = {}) const {
    const auto dims = from.dims();
    const Layout layout = layoutOf(from);
    // One block of 16 channels lies in memory as nhwc does, but under that name there is no fast kernel for
    // it.
    const bool blocked = from.data.format_desc.blocking.inner_nblks == 1;
    const Tag tag = blocked && layout.inner == 16  ? Tag::nChw16c
                    : blocked && layout.inner == 8 ? Tag::nChw8c
                    : layout.inner == 1            ? Tag::nchw
                                                   : Tag::nhwc;
    const memory::dim up = window.size - 2;  // an odd last row or column has a window of 3 of its own
    return describe(dims[1], (dims[2] + up) / 2, (dims[3] + up) / 2, type_, tag);
  }

  void buildConvolution(Step& step, const Convolution& conv, const memory::desc& source) {
    const auto dims = source.dims();
    const memory::dim k = conv.kernel;
    const memory::dim before = conv.before();
    const memory::dim after = k - 1 - before;
    const memory::dim stride = conv.stride;
    const memory::desc weights({conv.outputs, conv.inputs, k, k}, type_, Tag::any);
    const memory::desc bias({conv.outputs}, Type::f32, Tag::x);
    const auto target =
        describe(conv.outputs, (dims[2] + stride - 1) / stride, (dims[3] + stride - 1) / stride, type_);
    const ConvolutionShape shape{source,           weights,        bias,   target,
                                 {before, before}, {after, after}, stride, conv.negativeSlope,
                                 conv.plus >= 0};
    const auto [fpd, bpd] = chooseConvolution(shape, engine_);
    step.sourceDesc = fpd.src_desc();
    step.forward = dnnl::convolution_forward(fpd);
    step.backward = dnnl::convolution_backward_data(bpd);
    step.forwardScratch = fpd.scratchpad_desc();
    step.backwardScratch = bpd.scratchpad_desc();
    step.output = memory(fpd.dst_desc(), engine_, DNNL_MEMORY_NONE);
    memory plain({{conv.outputs, conv.inputs, k, k}, Type::f32, Tag::oihw}, engine_,
                 const_cast<float*>(conv.weights.data()));
    step.weights = memory(fpd.weights_desc(), engine_);
    step.backwardWeights = memory(bpd.weights_desc(), engine_);
    dnnl::reorder(plain, step.weights).execute(stream_, plain, step.weights);
    dnnl::reorder(plain, step.backwardWeights).execute(stream_, plain, step.backwardWeights);
    step.bias = memory(bias, engine_);
    std::copy(conv.bias.begin(), conv.bias.end(), static_cast<float*>(step.bias.get_data_handle()));
    if (steps_.empty()) inputGradientDesc_ = bpd.diff_src_desc();
    stream_.wait();
  }

  // Two gradient buffers serve all layers in turn, on the way there those that are not kept. One pooled input
  // serves every pooling.
  void allocateScratch() {
    std::size_t pooled = 0;
    gradientSize_ = inputGradientDesc_.get_size();
    for (const Step& step : steps_) {
      gradientSize_ = std::max(gradientSize_, step.output.get_desc().get_size());
      if (step.pooling != Pooling::none) pooled = std::max(pooled, step.sourceDesc.get_size());
    }
    std::size_t scratch = 0;
    for (const Step& step : steps_) {
      for (const memory::desc& wanted : {step.forwardScratch, step.backwardScratch}) {
        if (!fitsBehind(step, wanted)) scratch = std::max(scratch, wanted.get_size());
      }
    }
    if (scratch > 0) scratch_ = allocateLarge(scratch);
    for (auto& buffer : gradient_) buffer = allocateLarge(gradientSize_);
    for (std::size_t k = 0; k < steps_.size(); ++k) {
      if (!steps_[k].kept()) steps_[k].output.set_data_handle(gradient_[k % 2].get());
    }
    const memory::desc handedOn =
        handsOn_ != Pooling::none ? pooledDesc(steps_.back().output.get_desc()) : memory::desc();
    pooled = std::max(pooled, handedOn.get_size());
    if (pooled == 0) return;
    pooled_ = allocateLarge(pooled);
    if (handsOn_ != Pooling::none) handedOn_ = overlay(pooled_, handedOn, engine_);
    for (Step& step : steps_) {
      if (step.pooling != Pooling::none) step.pooled = memory(step.sourceDesc, engine_, pooled_.get());
    }
  }

  // What a layer's convolutions want for themselves lies behind its values in their gradient buffer, where
  // there is room.
  static std::size_t offsetBehind(const Step& step) {
    constexpr std::size_t kAlignment = 4096;
    return (step.output.get_desc().get_size() + kAlignment - 1) / kAlignment * kAlignment;
  }
  bool fitsBehind(const Step& step, const memory::desc& wanted) const {
    return offsetBehind(step) + wanted.get_size() <= gradientSize_;
  }
  memory scratch(std::size_t gradient, const Step& step, const memory::desc& wanted) const {
    if (!fitsBehind(step, wanted)) return overlay(scratch_, wanted, engine_);
    return memory(wanted, engine_, static_cast<std::byte*>(gradient_[gradient].get()) + offsetBehind(step));
  }

  void writeInput(const ConstPlanes& planes) {
    const Buffer to = bufferOf(input_);
    parallelFor(height_, [&](int y) {
      for (int c = 0; c < 3; ++c) {
        const float mean = chain_.mean[c];
        const float scale = chain_.scale[c];
        const float* from = &planes[c][cellAt(0, y, width_)];
        std::size_t at = to.layout.at(c, y * width_);
        const auto inner = to.layout.inner;
        if (to.half) {
          for (int x = 0; x < width_; ++x, at += inner) to.bf16()[at] = toBf16((from[x] - mean) * scale);
        } else {
          for (int x = 0; x < width_; ++x, at += inner) to.full()[at] = (from[x] - mean) * scale;
        }
      }
    });
  }

  Chain chain_;
  Pooling handsOn_;
  int width_;
  int height_;
  Type type_;
  dnnl::engine engine_;
  dnnl::stream stream_;
  std::vector<std::size_t> bands_;
  std::map<int, std::size_t> bandOfLayer_;
  std::vector<Step> steps_;
  memory input_;
  memory::desc inputGradientDesc_;
  std::array<LargeMemory, 2> gradient_;
  std::size_t gradientSize_ = 0;  // bytes, of each
  LargeMemory scratch_;           // for layers whose own does not fit there
  LargeMemory pooled_;
  memory handedOn_;  // the last output pooled; shares storage with the other pooled ones
  LargeMemory room_;
  std::map<std::size_t, BandMoments> known_;
  std::map<int, std::vector<float>> sums_;  // by layer, where pooling gave them
  std::map<std::pair<std::size_t, bool>, Pointwise> linear_;
  std::map<std::tuple<std::size_t, int, bool>, Pointwise> unproject_;
  std::map<std::pair<std::size_t, int>, Pointwise> project_;
};

Buffer keptBuffer(const KeptActivation& kept, const Buffer& like) {
  return {const_cast<std::byte*>(kept.data.get()), like.half, like.layout};
}

// Dense terms go to their own buffer, which starts unwritten, so that the first one costs no clearing; terms
// at single positions go where something already stands.
class GradientSink final : public BandGradient {
 public:
  GradientSink(Network& owner, std::size_t band, memory dense, memory arrived)
      : owner_(owner), band_(band), dense_(std::move(dense)), arrived_(std::move(arrived)) {}

  void addLinear(std::span<const float> matrix, std::span<const float> centre, std::span<const float> offset,
                 std::span<const float> weights) override {
    // The centre must be taken off with the very matrix that the product uses, rounded to bf16 where it is;
    // otherwise the rounding does not cancel and pushes all positions the same way.
    const bool half = bufferOf(dense_).half;
    std::vector<float> constant(offset.begin(), offset.end());
    parallelFor(constant.size(), [&](std::size_t i) {
      float sum = 0;
#pragma omp simd reduction(+ : sum)
      for (std::size_t j = 0; j < centre.size(); ++j) {
        const float m = matrix[i * centre.size() + j];
        sum += (half ? fromBf16(toBf16(m)) : m) * centre[j];
      }
      constant[i] -= sum;
    });
    if (weights.empty()) {
      owner_.linear(band_, written_).run(owner_.stream(), owner_.activation(band_), dense_, matrix, constant);
    } else {
      const memory room = owner_.roomFor(band_);
      owner_.linear(band_, false).run(owner_.stream(), owner_.activation(band_), room, matrix, constant);
      scalePositions(bufferOf(dense_), bufferOf(room), weights, written_);
    }
    written_ = true;
  }

  void addProjected(std::span<const float> directions, std::span<const float> values) override {
    const Layout layout = layoutOf(dense_.get_desc());
    const std::size_t channels = layout.channels;
    const std::size_t count = directions.size() / channels;
    Pointwise& product = owner_.unproject(band_, static_cast<int>(count), written_);
    std::vector<float> transposed(directions.size());
    for (std::size_t d = 0; d < count; ++d) {
      for (std::size_t c = 0; c < channels; ++c) transposed[c * count + d] = directions[d * channels + c];
    }
    const memory plain(
        describe(static_cast<memory::dim>(count), layout.height, layout.width, Type::f32, Tag::nchw),
        owner_.engine(), const_cast<float*>(values.data()));
    memory source(product.source(), owner_.engine());
    dnnl::reorder(plain, source).execute(owner_.stream(), const_cast<memory&>(plain), source);
    product.run(owner_.stream(), source, dense_, transposed, std::vector<float>(channels, 0.0F));
    written_ = true;
  }

  void addAt(std::span<const int> positions, std::span<const float> values) override {
    const memory& target = arrived_ ? arrived_ : dense_;
    if (!arrived_) clearIfUnwritten();
    addValuesAt(bufferOf(target), positions, values);
  }

  void addDifference(const KeptActivation& kept, float scale) override {
    const Buffer activation = bufferOf(owner_.activation(band_));
    if (kept.weights.empty()) {
      scaledDifference(bufferOf(dense_), activation, keptBuffer(kept, activation), scale, written_);
    } else {
      const Buffer room = bufferOf(owner_.roomFor(band_));
      scaledDifference(room, activation, keptBuffer(kept, activation), scale, false);
      scalePositions(bufferOf(dense_), room, kept.weights, written_);
    }
    written_ = true;
  }

  bool written() const { return written_; }

 private:
  void clearIfUnwritten() {
    if (written_) return;
    std::memset(dense_.get_data_handle(), 0, dense_.get_desc().get_size());
    written_ = true;
  }

  Network& owner_;
  std::size_t band_;
  memory dense_;
  memory arrived_;
  bool written_ = false;
};

BandMoments Network::weightedMoments(std::size_t band, std::span<const float> weights) {
  const memory scaled = roomFor(band);
  const Buffer from = bufferOf(activation(band));
  BandMoments m;
  scalePositions(bufferOf(scaled), from, weights, false);
  m.mean = channelSums(bufferOf(scaled));
  std::vector<float> roots(weights.begin(), weights.end());
  double total = 0;
  for (float& w : roots) {
    total += w;
    w = std::sqrt(w);
  }
  scalePositions(bufferOf(scaled), from, roots, false);
  m.gram = secondMoments(bufferOf(scaled));
  const auto share = static_cast<float>(1 / total);
  for (float& v : m.gram) v *= share;
  for (float& v : m.mean) v *= share;
  return m;
}

std::vector<float> Network::project(std::size_t band, std::span<const float> directions) {
  const memory& a = activation(band);
  const auto dims = a.get_desc().dims();
  const auto count = static_cast<memory::dim>(directions.size()) / dims[1];
  const auto key = std::make_pair(band, static_cast<int>(count));
  auto found = project_.find(key);
  if (found == project_.end()) {
    const auto open = describe(count, dims[2], dims[3], Type::f32);
    found = project_.try_emplace(key, engine_, a.get_desc(), open, false).first;
  }
  Pointwise& product = found->second;
  memory chosen(product.target(), engine_);
  product.run(stream_, a, chosen, directions, std::vector<float>(count, 0.0F));
  std::vector<float> planes(count * dims[2] * dims[3]);
  memory plain(describe(count, dims[2], dims[3], Type::f32, Tag::nchw), engine_, planes.data());
  dnnl::reorder(chosen, plain).execute(stream_, chosen, plain);
  stream_.wait();
  return planes;
}

KeptActivation Network::keep(std::size_t band) {
  const memory& a = activation(band);
  const std::size_t size = a.get_desc().get_size();
  std::shared_ptr<std::byte[]> data(new std::byte[size]);
  std::memcpy(data.get(), a.get_data_handle(), size);
  return {std::move(data), size, {}};
}

double Network::squaredDistance(std::size_t band, const KeptActivation& kept) {
  const Buffer buffer = bufferOf(activation(band));
  return squaredDifference(buffer, keptBuffer(kept, buffer), kept.weights);
}

void Network::toPlanes(const Buffer& from, const MutablePlanes& planes) {
  parallelFor(height_, [&](int y) {
    for (int c = 0; c < 3; ++c) {
      const float scale = chain_.scale[c];
      float* to = &planes[c][cellAt(0, y, width_)];
      std::size_t at = from.layout.at(c, y * width_);
      const auto inner = from.layout.inner;
      if (from.half) {
        for (int x = 0; x < width_; ++x, at += inner) to[x] = fromBf16(from.bf16()[at]) * scale;
      } else {
        for (int x = 0; x < width_; ++x, at += inner) to[x] = from.full()[at] * scale;
      }
    }
  });
}

void Network::send(Step& to, const Buffer& gradient) {
  const Buffer aside = bufferOf(overlay(to.aside, to.output.get_desc(), engine_));
  if (to.sent)
    addWindow({aside}, {gradient}, aside.layout.width, aside.layout.height);
  else
    takeOver(aside, gradient);
  to.sent = true;
}

void Network::sendBack(const Step& from, const Buffer& gradient) {
  Step& to = steps_[from.input];
  if (from.pooling == Pooling::none) return send(to, gradient);
  const Buffer aside = bufferOf(overlay(to.aside, to.output.get_desc(), engine_));
  unpoolWindows(aside, to.sent, gradient, bufferOf(to.output), from.pooling, from.window);
  to.sent = true;
}

memory Network::run(const FillGradient& fill, const Core* core) {
  enum class Above { nothing, convolution, pool };
  for (Step& step : steps_) step.sent = false;
  Above above = handsOn_ != Pooling::none ? Above::pool : Above::nothing;
  std::size_t current = 0;
  memory down;
  for (std::size_t k = steps_.size(); k-- > 0;) {
    Step& step = steps_[k];
    const memory::desc description = step.output.get_desc();
    // From a convolution above, the gradient has arrived in `current`; from a pool, a quarter of it waits
    // in the other buffer and `current` is free.
    const memory here = overlay(gradient_[current], description, engine_);
    const memory other = overlay(gradient_[1 - current], description, engine_);
    const bool arrived = above == Above::convolution;
    const auto band = bandOfLayer_.find(static_cast<int>(k));
    bool written = false;
    if (band != bandOfLayer_.end()) {
      GradientSink sink(*this, band->second, arrived ? other : here, arrived ? here : memory());
      fill(band->second, sink);
      stream_.wait();
      written = sink.written();
      if (core != nullptr && written) {
        const Core inside = core->at(chain_.bands[band->second].stride);
        jugendstil::clearOutside(bufferOf(arrived ? other : here), inside.left, inside.top, inside.right,
                                 inside.bottom);
      }
    }
    if (step.sent) {
      const Buffer to = bufferOf(here);
      const Buffer sent = bufferOf(overlay(step.aside, description, engine_));
      (arrived || written ? addWindow : copyWindow)({to}, {sent}, to.layout.width, to.layout.height);
      written = written || !arrived;
    }
    const Buffer activation = bufferOf(step.output);
    if (above == Above::pool) {
      const memory::desc quarter = k + 1 < steps_.size() ? steps_[k + 1].sourceDesc : handedOn_.get_desc();
      const memory pooled = overlay(gradient_[1 - current], quarter, engine_);
      const bool last = k + 1 == steps_.size();
      const Pooling pooling = last ? handsOn_ : steps_[k + 1].pooling;
      if (step.negativeSlope > 0 || (!last && !poolsAsUsual(steps_[k + 1], static_cast<int>(k) + 1))) {
        unpoolWindows(bufferOf(here), written, bufferOf(pooled), activation, pooling,
                      last ? PoolWindow{} : steps_[k + 1].window);
        if (step.negativeSlope < 1) maskBySlope(bufferOf(here), nullptr, activation, step.negativeSlope);
      } else if (pooling == Pooling::maximum) {
        unpoolToLargest(bufferOf(here), written, bufferOf(pooled), activation);
      } else {
        // What is handed on may not have been pooled this time.
        if (last) step.signs.keep(activation);
        unpoolAndMask(bufferOf(here), written, bufferOf(pooled), step.signs);
      }
    } else {
      if (!arrived && !written) std::memset(here.get_data_handle(), 0, description.get_size());
      const void* extra = arrived && written ? other.get_data_handle() : nullptr;
      const bool asItIs = step.negativeSlope >= 1 && extra == nullptr;
      if (step.negativeSlope > 0 && !asItIs)
        maskBySlope(bufferOf(here), extra, activation, step.negativeSlope);
      else if (step.negativeSlope <= 0 && step.kept())
        maskByRelu(bufferOf(here), extra, activation);
      else if (step.negativeSlope <= 0)
        step.signs.mask(bufferOf(here));
    }
    if (step.plus >= 0) send(steps_[step.plus], bufferOf(here));
    down = overlay(gradient_[1 - current], k == 0 ? inputGradientDesc_ : step.sourceDesc, engine_);
    dnnl::convolution_backward_data primitive = step.backward;
    primitive.execute(stream_, {{DNNL_ARG_DIFF_SRC, down},
                                {DNNL_ARG_WEIGHTS, step.backwardWeights},
                                {DNNL_ARG_DIFF_DST, here},
                                {DNNL_ARG_SCRATCHPAD, scratch(current, step, step.backwardScratch)}});
    stream_.wait();
    if (k > 0 && step.input != static_cast<int>(k) - 1) {
      sendBack(step, bufferOf(down));
      above = Above::nothing;
      continue;
    }
    above = step.pooling != Pooling::none ? Above::pool : Above::convolution;
    // A pooled gradient stays in the other buffer and this one is written next; a plain one is now `current`.
    if (step.pooling == Pooling::none) current = 1 - current;
  }
  return down;
}

}  // namespace

std::unique_ptr<WholeEvaluator> makeWholeEvaluator(const Chain& chain, int width, int height,
                                                   Precision precision, const std::vector<std::size_t>& bands,
                                                   Pooling handsOn) {
  return std::make_unique<Network>(chain, width, height, precision, bands, handsOn);
}

}  // namespace jugendstil
