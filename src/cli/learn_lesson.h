// SPDX-License-Identifier: Apache-2.0
// A quick painter on its way, with all that is told and kept of it.
#pragma once

#include <chrono>
#include <filesystem>
#include <string>
#include <vector>

#include "cli/interrupt.h"
#include "cli/learn_inputs.h"
#include "cli/run_options.h"
#include "learn/learner.h"

namespace jugendstil::cli {

struct LearnJob : RunOptions {
  LearnRecipe recipe;  // inputs and settings; checksums of a recipe run again are compared
  std::filesystem::path output;
  std::vector<std::string> vary;  // like "likeness=20,80": then the output is a folder
};

// All that a painter depends on, as text. Throws Error where an input is missing.
std::string makingOf(const LearnRecipe& recipe);

// The strip of how it became what it is: oil.painter.onnx -> oil.painter.steps.png
std::filesystem::path stripPath(const std::filesystem::path& output);

class Lesson {
 public:
  // All must live as long. Throws as Learner does.
  Lesson(const LearnJob& job, const LearnFiles& files, ProgressDisplay& display);

  // Goes on where the state beside the output stands.
  void resume();

  // Returns whether all steps were done. `rate` is what a step takes, in seconds, until its own pace is
  // known. Every minute all is written as it stands.
  bool run(const InterruptWatch& interrupt, double rate);

  // The painter as it stands, its recipe, its strip and, where it is not finished, its state. Throws Error.
  void write(bool finished);

  int stepsDone() const { return learner_.stepsDone(); }
  // Why the state could not be kept; empty where it was.
  const std::string& notKept() const { return notKept_; }

 private:
  using Clock = std::chrono::steady_clock;
  struct Moment {
    int step = 0;
    Image picture;
  };

  int steps() const { return job_.recipe.settings.steps; }
  void take(const LossTerms& loss);
  void takeMoment();
  Image paintedNow() const;
  void writeStrip() const;
  void tell(double rate);
  void exchange(StateExchange& with);
  void keep();
  void keepWhereDue();

  const LearnJob& job_;
  const LearnFiles& files_;
  ProgressDisplay& display_;
  std::string making_;
  std::filesystem::path state_;
  Learner learner_;
  LossTerms mean_;
  std::vector<Moment> strip_;
  std::string notKept_;
  Clock::time_point keptAt_ = Clock::now();
  double before_ = 0;  // seconds of earlier runs,
  int begun_ = 0;      // and their steps
};

}  // namespace jugendstil::cli
