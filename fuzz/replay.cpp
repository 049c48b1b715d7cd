// SPDX-License-Identifier: Apache-2.0
// Reads what was found once again: jugendstil_replay CORPUS [SECONDS [GROUP]]. CORPUS has a folder for each
// target. With SECONDS, files of the corpus are then changed by chance and read, for so long. Ends with 1 and
// the bytes in a file where a reader does anything but read or refuse.
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <exception>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>
#include <string>
#include <vector>

#include "base/file.h"
#include "changes.h"
#include "helper/helper.h"
#include "targets.h"

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

std::vector<std::string> corpusOf(const fs::path& folder) {
  std::vector<fs::path> files;
  if (fs::is_directory(folder))
    for (const auto& entry : fs::directory_iterator(folder)) files.push_back(entry.path());
  std::sort(files.begin(), files.end());
  std::vector<std::string> all{""};
  for (const fs::path& file : files) all.push_back(jugendstil::readFile(file, std::size_t{1} << 26));
  return all;
}

// Before each reading, so that the bytes are there where a reader ends the program.
void note(const std::string& bytes, const fs::path& file) {
  std::ofstream(file, std::ios::binary).write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
}

}  // namespace

int main(int count, char** words) {
  if (count < 2) return std::fputs("jugendstil_replay CORPUS [SECONDS [GROUP]]\n", stderr), 2;
  jugendstil::startHelpers();
  const fs::path corpus = words[1];
  const double seconds = count > 2 ? std::atof(words[2]) : 0;
  const std::string group = count > 3 ? words[3] : "";
  const fs::path folder = fs::temp_directory_path() / ("jugendstil-replay-" + std::to_string(getpid()));
  fs::create_directories(folder / "work");
  std::vector<const fuzz::Target*> chosen;
  for (const fuzz::Target& target : fuzz::targets()) {
    if (group.empty() || group == target.group) chosen.push_back(&target);
  }
  const fuzz::Target* now = nullptr;
  try {
    for (const fuzz::Target* target : chosen) {
      now = target;
      const std::vector<std::string> all = corpusOf(corpus / target->name);
      const auto read = [&](const std::string& bytes) {
        note(bytes, folder / "last");
        fuzz::readOnce(*target, bytes, folder / "work");
      };
      std::for_each(all.begin(), all.end(), read);
      std::mt19937 chance(std::random_device{}());
      const auto end =
          Clock::now() + std::chrono::duration<double>(seconds / static_cast<double>(chosen.size()));
      std::size_t changed = 0;
      for (; Clock::now() < end; ++changed) read(fuzz::changed(all, chance));
      std::printf("%-10s %zu files, %zu changes of them\n", target->name, all.size() - 1, changed);
    }
  } catch (const std::exception& e) {
    std::fprintf(stderr, "%s: %s; its bytes are in %s\n", now->name, e.what(), (folder / "last").c_str());
    return 1;
  }
  fs::remove_all(folder);
  return 0;
}
