// SPDX-License-Identifier: Apache-2.0
#include "cli/calibration.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <fstream>
#include <nlohmann/json.hpp>
#include <thread>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"
#include "paint/plan.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostBytes = std::size_t{1} << 20;
constexpr double kTelling = 20;  // seconds after which getting ready no longer matters
constexpr double kShortest = 3;  // seconds; less is mostly getting ready

std::string processorName() {
  std::ifstream info("/proc/cpuinfo");
  const std::string wanted = "model name";
  for (std::string line; std::getline(info, line);) {
    if (line.rfind(wanted, 0) == 0) return line.substr(std::min(line.size(), line.find(':') + 2));
  }
  return "processor";
}

unsigned threadsOf(int asked) {
  return asked > 0 ? static_cast<unsigned>(asked) : std::thread::hardware_concurrency();
}

nlohmann::json contentOf(const fs::path& file) {
  std::error_code code;
  if (file.empty() || !fs::exists(file, code)) return nlohmann::json::object();
  try {
    auto known = nlohmann::json::parse(readFile(file, kMostBytes));
    if (known.is_object()) return known;
  } catch (const nlohmann::json::exception&) {
  } catch (const Error&) {
  }
  return nlohmann::json::object();
}

}  // namespace

fs::path calibrationFile() {
  const char* cache = std::getenv("XDG_CACHE_HOME");
  // The specification has relative paths ignored.
  if (cache != nullptr && fs::path(cache).is_absolute())
    return fs::path(cache) / "jugendstil/calibration.json";
  const char* home = std::getenv("HOME");
  if (home == nullptr || *home == '\0') return {};
  return fs::path(home) / ".cache/jugendstil/calibration.json";
}

std::string gradeCalibrationKey(int threads) {
  return fmt::format("{} | {} | {} threads | grade", JUGENDSTIL_VERSION, processorName(), threadsOf(threads));
}

std::string weaveCalibrationKey(int threads) {
  return fmt::format("{} | {} | {} threads | weave", JUGENDSTIL_VERSION, processorName(), threadsOf(threads));
}

std::string calibrationKey(const PaintSettings& settings, const std::string& network) {
  const bool half = chosenPrecision(settings.precision) == Precision::half;
  const bool own = settings.styleAt.empty() && settings.contentAt.empty();
  const std::string layers = own ? ""
                                 : fmt::format(" at {} and {}", paintSettingText(settings, "style-at"),
                                               paintSettingText(settings, "content-at"));
  return fmt::format("{} | {} | {} threads | {} | {} | {} | {} | network {}{}", JUGENDSTIL_VERSION,
                     processorName(), threadsOf(settings.threads), half ? "half" : "full",
                     paintSettingText(settings, "measure"), paintSettingText(settings, "content"),
                     paintSettingText(settings, "solver"), network.substr(0, 12), layers);
}

std::optional<double> knownRate(const fs::path& file, const std::string& key) {
  const nlohmann::json known = contentOf(file);
  const auto found = known.find(key);
  if (found == known.end() || !found->is_number()) return std::nullopt;
  const double rate = found->get<double>();
  return rate > 0 ? std::optional(rate) : std::nullopt;
}

void learnRate(const fs::path& file, const std::string& key, double rate, double seconds) {
  if (const auto before = knownRate(file, key)) {
    const double share = 0.5 * std::min(1.0, seconds / kTelling);
    keepRate(file, key, *before + share * (rate - *before));
  } else if (seconds >= kShortest) {
    keepRate(file, key, rate);
  }
}

void keepRate(const fs::path& file, const std::string& key, double rate) {
  if (file.empty()) return;
  nlohmann::json known = contentOf(file);
  known[key] = rate;
  std::error_code code;
  fs::create_directories(file.parent_path(), code);
  try {
    writeFileAtomically(file, known.dump(1) + "\n");
  } catch (const Error&) {
  }
}

}  // namespace jugendstil::cli
