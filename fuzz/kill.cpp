// SPDX-License-Identifier: Apache-2.0
// The built program killed at random moments and begun again: jugendstil_kill TIMES [paint|film|grade|demo].
// However often, what comes out in the end has the bytes of a run that nobody disturbed.
#include <signal.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <optional>
#include <random>
#include <string>
#include <thread>
#include <vector>

#include "base/error.h"
#include "base/file.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "support/running.h"

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;
using Words = std::vector<std::string>;
using testing_support::Running;

const fs::path kSource = JUGENDSTIL_SOURCE;

struct Work {
  const char* name;
  Words words;
  bool again;  // --force lets it go on, or begin again, where something is written already
};

const Work kWorks[] = {
    {"paint",
     {"paint", "photo.png", "--after", "reference.png", "--long-edge", "160", "-q", "-o", "out/painted.png"},
     false},
    {"film",
     {"film", "../../../demo/clip/pond.mp4", "--after", "reference.png", "--frames", "4", "--long-edge",
      "160", "-q", "-o", "out/film.mkv"},
     false},
    {"grade",
     {"grade", "a.jpg", "b.jpg", "c.jpg", "photo.png", "--after", "reference.png", "-q", "-o", "out/"},
     true},
    // As small as it gets: what fits into six minutes differs from one time to another.
    {"demo", {"demo", "out", "--long-edge", "64", "--steps", "2", "--frames", "3", "-q"}, true}};

void makeInputs(const fs::path& folder) {
  fs::create_directories(folder / "out");
  const auto small = [&](const char* name, int width, int height) {
    return jugendstil::resizePhoto(jugendstil::readPicture(kSource / "demo" / name).image, width, height);
  };
  jugendstil::writePicture(folder / "photo.png", small("photos/gate.jpg", 480, 320),
                           jugendstil::Depth::eight);
  jugendstil::writePicture(folder / "reference.png", small("references/moor_wash.jpg", 320, 280),
                           jugendstil::Depth::eight);
  for (const char* name : {"a.jpg", "b.jpg", "c.jpg"})
    jugendstil::writePicture(folder / name, small("photos/palm_house.jpg", 1600, 1066),
                             jugendstil::Depth::eight);
}

Running start(const Words& words, const fs::path& folder) {
  testing_support::Surroundings around;
  for (const char* home : {"XDG_CACHE_HOME=", "XDG_DATA_HOME=", "XDG_CONFIG_HOME="})
    around.environment.push_back(std::string(home) + (folder / "home").string());
  const fs::path logs = folder / "logs";
  fs::remove_all(logs);
  fs::create_directories(logs);
  return {words, folder, logs, around};
}

// Pictures and films; recipes and pages tell how long it took.
std::map<std::string, std::string> resultsIn(const fs::path& folder) {
  std::map<std::string, std::string> results;
  for (const auto& entry : fs::recursive_directory_iterator(folder / "out")) {
    const std::string extension = entry.path().extension().string();
    const bool result =
        extension == ".png" || extension == ".jpg" || extension == ".mkv" || extension == ".mp4";
    if (entry.is_regular_file() && result)
      results[fs::relative(entry.path(), folder).string()] =
          jugendstil::readFile(entry.path(), std::size_t{1} << 30);
  }
  return results;
}

double since(Clock::time_point begin) { return std::chrono::duration<double>(Clock::now() - begin).count(); }

// How often it went wrong.
int killOften(const Work& work, int times, const fs::path& base) {
  const fs::path undisturbed = base / (std::string(work.name) + "-undisturbed");
  const fs::path disturbed = base / (std::string(work.name) + "-killed");
  makeInputs(undisturbed);
  const auto begin = Clock::now();
  const bool fine = start(work.words, undisturbed).wait() == 0;
  const double whole = since(begin);
  if (!fine) throw jugendstil::Error(std::string(work.name) + " fails by itself");
  const auto expected = resultsIn(undisturbed);
  std::mt19937 chance(7);
  // Some are let come to their end.
  std::uniform_real_distribution<double> moment(0, whole * 1.1);
  int killed = 0;
  int ended = 0;
  int wrong = 0;
  makeInputs(disturbed);
  for (bool first = true; killed < times || !first;) {
    Words words = work.words;
    if (!first && work.again) words.emplace_back("--force");
    Running program = start(words, disturbed);
    const double at = killed < times ? moment(chance) : 1e9;
    const auto from = Clock::now();
    std::optional<int> status;
    while (!(status = program.ended()) && since(from) < at)
      std::this_thread::sleep_for(std::chrono::milliseconds(2));
    first = false;
    if (!status) {
      program.signal(SIGKILL);
      program.wait();
      ++killed;
      continue;
    }
    ++ended;
    const bool same = *status == 0 && resultsIn(disturbed) == expected;
    if (!same) {
      ++wrong;
      std::printf(
          "%s: after %d kills %s\n", work.name, killed,
          *status == 0 ? "other bytes" : jugendstil::readFile(disturbed / "logs" / "err", 100000).c_str());
    }
    for (const auto& entry : fs::recursive_directory_iterator(disturbed)) {
      if (entry.path().string().find(".part") != std::string::npos) {
        ++wrong;
        std::printf("%s: left %s\n", work.name, entry.path().c_str());
      }
    }
    fs::remove_all(disturbed);
    makeInputs(disturbed);
    first = true;
  }
  std::printf("%-6s killed %d times, came to its end %d times, wrong %d times; undisturbed %.1f s\n",
              work.name, killed, ended, wrong, whole);
  std::fflush(stdout);
  return wrong;
}

}  // namespace

int main(int count, char** words) {
  if (count < 2) return std::fputs("jugendstil_kill TIMES [paint|film|grade|demo]\n", stderr), 2;
  setenv("GOMP_SPINCOUNT", "2000", 1);
  const fs::path base = kSource / "build" / "kill";
  fs::remove_all(base);
  int wrong = 0;
  try {
    for (const Work& work : kWorks) {
      if (count == 2 || std::string(words[2]) == work.name)
        wrong += killOften(work, std::atoi(words[1]), base);
    }
  } catch (const jugendstil::Error& e) {
    return std::fprintf(stderr, "%s\n", e.what()), 2;
  }
  return wrong > 0 ? 1 : 0;
}
