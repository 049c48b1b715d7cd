// Style measures: how far a band's activations are from those of the references.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "grade/transport.h"
#include "network/evaluator.h"

namespace jugendstil {

enum class MeasureKind {
  gram,        // second moments of the channels (Gatys, Ecker & Bethge 2016)
  moments,     // means and standard deviations of the channels (Li, Wang, Liu & Hou 2017)
  sliced,      // sliced Wasserstein distance (Heitz, Vanhoey, Chambon & Belcour 2021)
  neighbours,  // each patch to the one most like it (Li & Wand 2016); see neighbours.h
  critic,      // a judge trained along the way (Goodfellow et al. 2014); see critic.h
};

// Throws UsageError for names that there are not.
MeasureKind measureFromName(const std::string& name);
std::string nameOf(MeasureKind kind);

// What is remembered of the references in one band: share-weighted means of their statistics, and where the
// measure needs them samples of activations, or of patches, in numbers by share.
class BandStatistics {
 public:
  BandStatistics(MeasureKind kind, std::size_t band) : kind_(kind), band_(band) {}

  // Takes in the evaluator's last forward pass. Shares are relative; their sum needs not be 1.
  void add(Evaluator& reference, double share);

  MeasureKind kind() const { return kind_; }
  std::size_t band() const { return band_; }
  std::vector<float> gram() const;
  std::vector<float> mean() const;
  // Rows of activations, in numbers by share; at most kSamples of them.
  std::vector<float> samples() const;
  // Rows of 3 x 3 neighbouring activations, in reading order, in numbers by share; at most kPatches of them.
  std::vector<float> patches() const;

 private:
  static constexpr std::size_t kSamples = 8192;
  static constexpr std::size_t kPatches = 3072;
  struct Part {
    double share;
    std::vector<float> rows;
  };
  std::vector<float> rowsByShare(std::size_t length, std::size_t most) const;

  MeasureKind kind_;
  std::size_t band_;
  std::size_t channels_ = 0;
  double shares_ = 0;
  std::vector<double> gram_;
  std::vector<double> mean_;
  std::vector<Part> parts_;
};

// One band's style term: 0 where the statistics agree, near 1 where they have nothing in common.
class Measure {
 public:
  virtual ~Measure() = default;

  // The term's value for the evaluator's last forward pass. The step picks what is drawn at random.
  virtual double value(Evaluator& picture, std::uint64_t step) = 0;

  // Adds weight times the gradient of what value() last returned.
  virtual void addGradient(double weight, BandGradient& gradient) = 0;
};

// With weights, one for each position of the picture's band and not all of them 0, only what they weigh is
// looked at and moved (Gatys, Ecker, Bethge, Hertzmann & Shechtman 2017). All but `gram` and `moments` take
// the positions of more than half of the largest weight, all alike.
std::unique_ptr<Measure> makeMeasure(const BandStatistics& target, std::uint64_t seed,
                                     std::vector<float> weights = {});

}  // namespace jugendstil
