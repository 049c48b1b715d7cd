// SPDX-License-Identifier: Apache-2.0
// What painting takes on this machine, remembered from one run to the next.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

#include "paint/settings.h"

namespace jugendstil::cli {

// The cache's file after the XDG Base Directory specification: in XDG_CACHE_HOME, else in ~/.cache; empty
// where there is neither.
std::filesystem::path calibrationFile();

// What the speed depends on, as one line: program, processor, threads, network, and the settings that count.
std::string calibrationKey(const PaintSettings& settings, const std::string& network);

// The same of grading, and of weaving.
std::string gradeCalibrationKey(int threads);
std::string weaveCalibrationKey(int threads);

// Seconds a step and pixel. A file that is missing or damaged knows nothing.
std::optional<double> knownRate(const std::filesystem::path& file, const std::string& key);

// Notes the rate of work that took `seconds`. Mixed half and half with what was known where it took long; the
// shorter it was, the less it counts, for much of a short painting is getting ready; under three seconds it
// is not taken for a first rate. A cache that cannot be written is done without.
void learnRate(const std::filesystem::path& file, const std::string& key, double rate, double seconds);

// Notes the rate of a trial, in place of what was known.
void keepRate(const std::filesystem::path& file, const std::string& key, double rate);

}  // namespace jugendstil::cli
