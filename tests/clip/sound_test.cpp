// SPDX-License-Identifier: Apache-2.0
#include "clip/sound.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

// A tone that begins after a second, of two seconds.
Sound toneOf(double hertz) {
  Sound sound{22050, std::vector<float>(44100)};
  for (int i = 22050; i < 44100; ++i)
    sound.samples[i] = static_cast<float>(0.4 * std::sin(2 * std::numbers::pi * hertz * i / 22050));
  return sound;
}

// 16 bits, two channels, the right channel silent.
std::string waveFile(const Sound& sound, int rate) {
  std::string data;
  const auto put = [&](std::uint32_t value, int bytes) {
    for (int b = 0; b < bytes; ++b) data.push_back(static_cast<char>(value >> (8 * b)));
  };
  const auto frames = static_cast<std::uint32_t>(sound.seconds() * rate);
  data += "RIFF";
  put(36 + frames * 4, 4);
  data += "WAVEfmt ";
  put(16, 4);
  put(1, 2);
  put(2, 2);
  put(rate, 4);
  put(rate * 4, 4);
  put(4, 2);
  put(16, 2);
  data += "data";
  put(frames * 4, 4);
  for (std::uint32_t i = 0; i < frames; ++i) {
    const auto at = static_cast<std::size_t>(1.0 * i / rate * sound.rate);
    put(static_cast<std::uint16_t>(static_cast<std::int16_t>(sound.samples[at] * 32767)), 2);
    put(0, 2);
  }
  return data;
}

TEST(Sound, EachBandHearsItsOwnTones) {
  const struct {
    double hertz;
    SoundBand band;
  } tones[] = {{80, SoundBand::bass}, {800, SoundBand::middle}, {5000, SoundBand::treble}};
  for (const auto& tone : tones) {
    for (const auto& other : tones) {
      const auto loud = loudness(toneOf(tone.hertz), other.band, 24, 48);
      ASSERT_EQ(loud.size(), 48U);
      if (other.band != tone.band) continue;
      EXPECT_LT(loud[12], 0.02) << tone.hertz;
      EXPECT_GT(loud[36], 0.9) << tone.hertz;
    }
    // All of a film's loudest is 1, so what a band hears of another's tone is compared within one sound.
    Sound both = toneOf(tone.hertz);
    for (int i = 0; i < 22050; ++i)
      both.samples[i] = static_cast<float>(0.4 * std::sin(2 * std::numbers::pi * 80 * i / 22050));
    if (tone.band != SoundBand::bass) {
      EXPECT_LT(loudness(both, SoundBand::bass, 24, 48)[40], 0.05) << tone.hertz;
    }
  }
}

TEST(Sound, SilenceAndWhatComesAfterItAreQuiet) {
  const auto loud = loudness({22050, std::vector<float>(22050)}, SoundBand::all, 24, 30);
  for (const double l : loud) EXPECT_EQ(l, 0);
  EXPECT_EQ(loudness(toneOf(300), SoundBand::all, 24, 96)[90],
            loudness(toneOf(300), SoundBand::all, 24, 96)[90]);
  EXPECT_LT(loudness(toneOf(300), SoundBand::all, 24, 96)[90], 0.01);
}

TEST(Sound, FallsSlowerThanItRises) {
  Sound click{22050, std::vector<float>(44100)};
  for (int i = 22050; i < 24000; ++i) click.samples[i] = i % 40 < 20 ? 0.5F : -0.5F;
  const auto loud = loudness(click, SoundBand::all, 24, 48);
  EXPECT_LT(loud[21], 0.05);
  EXPECT_GT(loud[24], 0.6);
  EXPECT_GT(loud[28], 0.1);
  EXPECT_LT(loud[46], 0.02);
}

TEST(Sound, IsReadAsOneChannel) {
  const TemporaryFolder folder;
  writeContent(folder / "tone.wav", waveFile(toneOf(440), 44100));
  const Sound sound = readSound((folder / "tone.wav").string());
  EXPECT_NEAR(sound.seconds(), 2, 0.01);
  const auto power = [&](double from, double to) {
    double sum = 0;
    for (auto i = static_cast<int>(from * sound.rate); i < static_cast<int>(to * sound.rate); ++i)
      sum += sound.samples[i] * sound.samples[i];
    return sum / ((to - from) * sound.rate);
  };
  EXPECT_LT(power(0.1, 0.9), 1e-6);
  // What the one channel that sounds has, halved in power by the one that does not.
  EXPECT_NEAR(power(1.1, 1.9), 0.5 * 0.4 * 0.4 / 2, 0.005);
}

TEST(Sound, SaysWhatCannotBeRead) {
  const TemporaryFolder folder;
  const std::string missing = (folder / "no.wav").string();
  EXPECT_EQ(refusal([&] { readSound(missing); }), "there is no sound file " + missing);
  writeContent(folder / "text.wav", "no sound at all");
  EXPECT_NE(
      refusal([&] { readSound((folder / "text.wav").string()); }).find("holds no sound that can be read"),
      std::string::npos);
}

}  // namespace
}  // namespace jugendstil
