// SPDX-License-Identifier: Apache-2.0
// The sound of a file, as something that pictures can follow.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace jugendstil {

// All channels mixed down to one, as loud as they are together; about [-1, 1].
struct Sound {
  int rate = 0;  // samples a second
  std::vector<float> samples;
  double seconds() const { return rate > 0 ? static_cast<double>(samples.size()) / rate : 0; }
};

// The first sound in a file that libav reads. Throws Error where there is none, or none that can be read.
Sound readSound(const std::string& file);

// Parts of what is heard: below 200 Hz, up to 2000 Hz, above, and everything.
enum class SoundBand { bass, middle, treble, all };

// How loud a band is at each of so many frames, 0 to 1: root mean square over the time about the frame,
// relative to the loudest moments of those frames (the 98th percentile). It rises at once and falls within a
// quarter of a second, as an eye expects of a light that follows music. All 0 for silence.
std::vector<double> loudness(const Sound& sound, SoundBand band, double frameRate, std::int64_t frames);

}  // namespace jugendstil
