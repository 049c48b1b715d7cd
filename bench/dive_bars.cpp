// SPDX-License-Identifier: Apache-2.0
// The bars of dives, one line each: jugendstil_dive_bars [FRAMES [EDGE [amplify|paint|quick]]]. How far
// films of 500 frames, 320 pixels wide, stray, takes half an hour; with 0 frames only what a frame costs.
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <numbers>
#include <vector>

#include "base/parallel.h"
#include "clip/clip.h"
#include "dive/dive.h"
#include "dive/keel.h"
#include "image/luma.h"
#include "image/picture_file.h"
#include "learn/general_painter.h"
#include "measure.h"
#include "network/chain_file.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

constexpr int kThreads = 2;
constexpr int kTimed = 6;  // frames of which the pace is taken
const fs::path kShare = JUGENDSTIL_SHARE_SOURCE;

struct Way {
  const char* name;
  double bar;  // seconds of a frame of 640x360
};
constexpr Way kWays[] = {{"amplify", 2.5}, {"paint", 8}, {"quick", 0.7}};

struct Material {
  Chain chain = readOnnx(kShare / "networks/filigree.onnx");
  std::vector<PaintReference> references{
      {rgbOf(readPicture(kShare / "demo/references/evening_impasto.jpg").image), 1}};
  QuickPainter painter =
      painterFor(readGeneralPainter(kShare / "networks/general.onnx"), chain, references, {});
  Image photo = rgbOf(readPicture(kShare / "demo/photos/palm_house.jpg").image);
};

DiveInputs inputsFor(const Material& m, const Way& way, int frames, Size size, const fs::path& output) {
  DiveInputs inputs;
  inputs.chain = &m.chain;
  inputs.start = resizePhoto(m.photo, size.width, size.height);
  inputs.output = output.string();
  inputs.making = "a measurement";
  inputs.anew = true;
  setDiveSetting(inputs.settings, "by", way.name);
  setDiveSetting(inputs.settings, "precision", "full");
  setDiveSetting(inputs.settings, "length", std::to_string(frames));
  setDiveSetting(inputs.settings, "zoom", "1.01");
  setDiveSetting(inputs.settings, "turn", "0.3");
  if (inputs.settings.by == DiveBy::paint) inputs.references = {{"", m.references}};
  if (inputs.settings.by == DiveBy::quick) inputs.painters = {{"", &m.painter}};
  return inputs;
}

// The making and the writing of a frame together, the first one left out.
void time(const Material& m, const Way& way, const fs::path& folder) {
  std::vector<double> made;  // when each frame was begun
  std::vector<double> written;
  FilmCallbacks callbacks;
  const auto begin = Clock::now();
  callbacks.progress = [&](const FilmProgress& p) {
    if (std::string(p.stage) == "first picture" || std::string(p.stage) == "looking over what is kept")
      return;
    std::vector<double>& stage = std::string(p.stage) == "writing" ? written : made;
    if (p.frame == std::ssize(stage)) stage.push_back(since(begin));
  };
  makeDive(inputsFor(m, way, kTimed + 2, {640, 360}, folder / "timed.mkv"), callbacks);
  const auto usual = [](const std::vector<double>& at) {
    std::vector<double> steps;
    for (std::size_t i = 3; i < at.size(); ++i) steps.push_back(at[i] - at[i - 1]);
    std::nth_element(steps.begin(), steps.begin() + steps.size() / 2, steps.end());
    return steps[steps.size() / 2];
  };
  report(fmt::format("a frame of 640x360 by {}", way.name), usual(made) + usual(written), "s", way.bar, true);
}

double gradientEnergy(const Image& p) {
  double sum = 0;
  for (int y = 0; y + 1 < p.height; ++y) {
    for (int x = 0; x + 1 < p.width; ++x) {
      const auto luma = [&](int i, int j) { return lumaOf(p.row(j) + 3 * i); };
      const double dx = luma(x + 1, y) - luma(x, y);
      const double dy = luma(x, y + 1) - luma(x, y);
      sum += dx * dx + dy * dy;
    }
  }
  return sum / static_cast<double>(p.area());
}

// The furthest from the mean of frames 20 to 40, from frame 20 on, in per cent.
double straying(const std::vector<double>& values) {
  double mean = 0;
  for (int i = 20; i <= 40; ++i) mean += values[i] / 21;
  double far = 0;
  for (std::size_t i = 20; i < values.size(); ++i) far = std::max(far, std::abs(values[i] / mean - 1));
  return 100 * far;
}

// The highest part of a spectrum over its surroundings, both as root mean squares: of 5 places over 51.
double highestPeak(const std::vector<double>& values) {
  constexpr int kAround = 12;
  std::vector<double> rest;  // less what changes slowly
  for (int i = 20 + kAround; i + kAround < countOf(values); ++i) {
    double mean = 0;
    for (int k = -kAround; k <= kAround; ++k) mean += values[i + k] / (2 * kAround + 1);
    rest.push_back(values[i] - mean);
  }
  const int count = countOf(rest);
  std::vector<double> power;
  for (int k = 1; k < count / 2; ++k) {
    double a = 0;
    double b = 0;
    for (int i = 0; i < count; ++i) {
      const double angle = 2 * std::numbers::pi * i / count;
      const double window = 0.5 - 0.5 * std::cos(angle);
      a += window * rest[i] * std::cos(k * angle);
      b += window * rest[i] * std::sin(k * angle);
    }
    power.push_back(a * a + b * b);
  }
  const auto mean = [&](int k, int by) {
    double sum = 0;
    int n = 0;
    for (int j = std::max(0, k - by); j <= std::min(countOf(power) - 1, k + by); ++j, ++n) sum += power[j];
    return sum / n;
  };
  double highest = 0;
  for (int k = 25; k + 2 < countOf(power); ++k)
    highest = std::max(highest, std::sqrt(mean(k, 2) / mean(k, 25)));
  return highest;
}

void stray(const Material& m, const Way& way, int frames, int edge, const fs::path& folder) {
  const fs::path film = folder / "strays.mkv";
  const DiveInputs inputs = inputsFor(m, way, frames, {edge, edge * 9 / 16}, film);
  const DiveResult result = makeDive(inputs, {});
  std::vector<double> lightness;
  std::vector<double> chroma;
  std::vector<double> gradient;
  const auto clip = openClip(film.string());
  Image frame;
  while (clip->read(frame) == FrameState::read) {
    const Keel keel = keelOf(frame);
    lightness.push_back(keel.lightness);
    chroma.push_back(keel.chroma);
    gradient.push_back(gradientEnergy(frame));
  }
  const auto tell = [&](const char* what, double value, const char* unit, double bar) {
    report(fmt::format("{} frames by {}: {}", frames, way.name, what), value, unit, bar, true);
  };
  tell("mean lightness strays", straying(lightness), "%", 8);
  tell("mean chroma strays", straying(chroma), "%", 8);
  tell("gradient energy strays", straying(gradient), "%", 15);
  tell("highest peak of its spectrum", highestPeak(gradient), "times", 2);
  tell("frames filled", static_cast<double>(result.filled.size()), "", 0);
}

}  // namespace

int main(int count, char** words) {
  const int frames = count > 1 ? std::atoi(words[1]) : 500;
  const int edge = count > 2 ? std::atoi(words[2]) : 320;
  setThreads(kThreads);
  const fs::path folder = fs::temp_directory_path() / fmt::format("jugendstil-dives-{}", getpid());
  fs::create_directories(folder);
  const Material material;
  const auto wanted = [&](const Way& way) { return count < 4 || std::string(words[3]) == way.name; };
  for (const Way& way : kWays) {
    if (wanted(way)) time(material, way, folder);
  }
  for (const Way& way : kWays) {
    if (frames > 100 && wanted(way)) stray(material, way, frames, edge, folder);
  }
  fs::remove_all(folder);
}
