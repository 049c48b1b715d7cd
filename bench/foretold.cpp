// SPDX-License-Identifier: Apache-2.0
// Does --dry-run tell what a painting will take? The built program on the demo pairs, with a cache of its own
// that is empty at first, as on a new machine: jugendstil_foretold [LONG_EDGE]
#include <fcntl.h>
#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <sstream>
#include <stdexcept>
#include <vector>

#include "measure.h"

namespace {

using namespace bench;

namespace fs = std::filesystem;

struct Run {
  std::string told;  // what it printed
  double seconds = 0;
  double memory = 0;  // peak resident, MB
};

Run ran(const std::vector<std::string>& words, const fs::path& folder) {
  const fs::path told = folder / "told.txt";
  const auto begin = Clock::now();
  const pid_t child = fork();
  if (child == 0) {
    const int file = open(told.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600);
    dup2(file, STDOUT_FILENO);
    setenv("XDG_CACHE_HOME", folder.c_str(), 1);
    std::vector<char*> line;
    for (const std::string& word : words) line.push_back(const_cast<char*>(word.c_str()));
    line.push_back(nullptr);
    execv(JUGENDSTIL_PROGRAM, line.data());
    _exit(127);
  }
  int status = 0;
  rusage usage{};
  wait4(child, &status, 0, &usage);
  if (status != 0) throw std::runtime_error("the program failed");
  std::ifstream in(told);
  return {std::string(std::istreambuf_iterator<char>(in), {}), since(begin),
          static_cast<double>(usage.ru_maxrss) / 1024};
}

// "1 min 02 s" as 62.
double secondsIn(const std::string& words) {
  std::istringstream in(words);
  double seconds = 0;
  double number = 0;
  for (std::string unit; in >> number >> unit;)
    seconds += number * (unit == "h" ? 3600 : unit == "min" ? 60 : 1);
  return seconds;
}

// What follows "NAME: about " up to a bracket or the end of its line.
std::string after(const std::string& text, const std::string& name) {
  const std::string start = name + ": about ";
  const std::size_t found = text.find(start);
  if (found == std::string::npos) throw std::runtime_error("the dry run did not tell its " + name);
  const std::size_t begin = found + start.size();
  return text.substr(begin, text.find_first_of("(\n", begin) - begin);
}

double missed(double foretold, double taken) { return 100 * std::abs(foretold / taken - 1); }

}  // namespace

int main(int count, char** words) {
  const fs::path demo = fs::path(JUGENDSTIL_SHARE_SOURCE) / "demo";
  std::string pattern = (fs::temp_directory_path() / "jugendstil-foretold-XXXXXX").string();
  if (mkdtemp(pattern.data()) == nullptr) throw std::runtime_error("no folder could be made in " + pattern);
  const fs::path folder = pattern;
  double worstTime = 0;
  double worstMemory = 0;
  for (const char* photo : {"palm_house", "potting_bench"}) {
    for (const char* reference : {"evening_impasto", "sun_lily_mosaic", "moon_linocut"}) {
      std::vector<std::string> line{"jugendstil",
                                    "paint",
                                    (demo / "photos" / photo).string() + ".jpg",
                                    "--after",
                                    (demo / "references" / reference).string() + ".jpg",
                                    "-o",
                                    (folder / "painting.png").string(),
                                    "--force",
                                    "--quiet"};
      if (count > 1) line.insert(line.end(), {"--long-edge", words[1]});
      std::vector<std::string> asking = line;
      asking.emplace_back("--dry-run");
      const std::string foretold = ran(asking, folder).told;
      const Run taken = ran(line, folder);
      const double seconds = secondsIn(after(foretold, "time"));
      const double memory = std::stod(after(foretold, "memory"));
      fmt::print("{} after {}: foretold {:.0f} s and {:.0f} MB, took {:.0f} s and {:.0f} MB\n", photo,
                 reference, seconds, memory, taken.seconds, taken.memory);
      std::fflush(stdout);
      worstTime = std::max(worstTime, missed(seconds, taken.seconds));
      worstMemory = std::max(worstMemory, missed(memory, taken.memory));
    }
  }
  fs::remove_all(folder);
  report("time foretold, farthest from what it took", worstTime, "%", 25, true);
  report("memory foretold, farthest from its peak", worstMemory, "%", 25, true);
}
