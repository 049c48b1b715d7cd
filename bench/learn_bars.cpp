// SPDX-License-Identifier: Apache-2.0
// The bars of quick painters, one line each: jugendstil_learn_bars
#include "base/parallel.h"
#include "image/picture_file.h"
#include "learn/learner.h"
#include "learn/quick_painting.h"
#include "measure.h"

namespace {

using namespace jugendstil;
using namespace bench;

constexpr int kThreads = 2;
constexpr int kRuns = 5;
constexpr int kSteps = 20;

Image picture(const char* name) {
  return rgbOf(readPicture(std::string(JUGENDSTIL_SHARE_SOURCE) + "/demo/" + name).image);
}

double secondsFor(Size size) {
  const Net net = painterNet(1);
  const Image photo = resizePhoto(picture("photos/palm_house.jpg"), size.width, size.height);
  QuickPainting painting(net, size);
  return bestOf(kRuns, [&] { painting.paint(photo); });
}

// What the painter's network costs does not hang on what it has learned.
void painting() {
  const double large = secondsFor({1024, 768});
  report("a frame of 1024x768", large, "s", 0.3, true);
  report("frames of 640x360", 1 / secondsFor({640, 360}), "a s", 8, false);
  report("four times the pixels take so many times the time", secondsFor({2048, 1536}) / large, "times", 4.6,
         true);
}

// What a part of ten minutes is worth.
void learning() {
  const Chain chain = readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx");
  LearnSettings settings;
  Learner learner(chain,
                  {{picture("photos/palm_house.jpg")}, {{picture("references/evening_impasto.jpg"), 1}}},
                  settings);
  learner.step();
  const Clock::time_point begin = Clock::now();
  for (int i = 0; i < kSteps; ++i) learner.step();
  fmt::print("a step of learning, pieces of {} pixels: {:.2f} s\n", settings.side, since(begin) / kSteps);
}

}  // namespace

int main() {
  // Before there are threads.
  report("peak memory of a frame of 1024x768", peakMemory([] {
           setThreads(kThreads);
           secondsFor({1024, 768});
         }),
         "MB", 500, true);
  setThreads(kThreads);
  painting();
  learning();
}
