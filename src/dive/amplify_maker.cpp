// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <string>

#include "amplify/amplify.h"
#include "amplify/further.h"
#include "dive/maker.h"

namespace jugendstil {
namespace {

// Adds to what the band has already.
void addWeight(BandWeights& bands, const std::string& name, double weight) {
  for (auto& band : bands) {
    if (band.first == name) {
      band.second += weight;
      return;
    }
  }
  bands.emplace_back(name, weight);
}

// All bands of two sets, each with its weight between them.
BandWeights mixedBands(const BandWeights& from, const BandWeights& to, double part) {
  BandWeights all;
  const auto add = [&](const BandWeights& bands, double share) {
    if (share <= 0) return;
    double sum = 0;
    for (const auto& band : bands) sum += band.second;
    for (const auto& band : bands) addWeight(all, band.first, share * band.second / sum);
  };
  add(from, 1 - part);
  add(to, part);
  return all;
}

AmplifySettings settingsOf(const DiveInputs& inputs, const DivePlan& plan) {
  AmplifySettings settings = inputs.settings.made;
  settings.painting.longEdge = std::max(plan.size.width, plan.size.height);
  // How a frame lies over what it was made of is not for what makes it.
  settings.painting.opacity = 1;
  settings.bands.clear();
  for (const Key<BandWeights>& key : inputs.settings.bands) {
    for (const auto& band : key.value) addWeight(settings.bands, band.first, band.second);
  }
  return settings;
}

class DiveAmplifier final : public DiveMaker {
 public:
  DiveAmplifier(const DiveInputs& inputs, const DivePlan& plan, const Image& start)
      : inputs_(inputs),
        start_(start),
        settings_(settingsOf(inputs, plan)),
        further_(*inputs.chain, settings_, inputs.towards, start) {}

  Image whole(std::size_t key, double strength, const Steps& told) override {
    AmplifySettings one = settings_;
    one.bands = inputs_.settings.bands[key].value;
    one.strength = strength;
    AmplifyCallbacks callbacks;
    callbacks.progress = [&](double done) { told(static_cast<int>(done * 100), 100); };
    return clipped(amplified(*inputs_.chain, {start_, inputs_.towards, {}}, one, callbacks));
  }

  Image next(const Image& moved, const DiveFrame& frame, std::int64_t, double caution,
             const Steps& told) override {
    const auto& keys = inputs_.settings.bands;
    const BandWeights bands =
        mixedBands(keys[frame.made.from].value, keys[frame.made.to].value, frame.made.part);
    return further_.go(moved, bands, frame.strength * caution, told);
  }

 private:
  const DiveInputs& inputs_;
  const Image& start_;
  AmplifySettings settings_;
  Further further_;
};

}  // namespace

std::unique_ptr<DiveMaker> makeAmplifier(const DiveInputs& inputs, const DivePlan& plan, const Image& start) {
  return std::make_unique<DiveAmplifier>(inputs, plan, start);
}

}  // namespace jugendstil
