// SPDX-License-Identifier: Apache-2.0
// The built program given damaged files of every kind that it reads: jugendstil_attack SECONDS [SEED]. Counts
// ends by a signal, runs of more than twenty seconds, unexpected failures, errors of more than one line,
// codes that mean nothing, and files left behind; keeps what it found in build/attack-found. Ends with 1
// where there is any.
#include <signal.h>
#include <sys/wait.h>

#include <algorithm>
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <mutex>
#include <optional>
#include <random>
#include <set>
#include <sstream>
#include <string>
#include <thread>
#include <vector>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"
#include "changes.h"
#include "seeds.h"
#include "support/running.h"
#include "support/support.h"

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;
using Words = std::vector<std::string>;

constexpr double kHang = 20;
constexpr std::uint64_t kMemory = std::uint64_t{6} << 30U;
constexpr int kWorkers = 2;

struct Run {
  int status = 0;
  bool hung = false;
  std::string err;
};

Run runProgram(const Words& words, const fs::path& folder) {
  testing_support::Surroundings around;
  around.in = "/dev/null";
  around.memory = kMemory;
  for (const char* home : {"XDG_CACHE_HOME=", "XDG_DATA_HOME=", "XDG_CONFIG_HOME="})
    around.environment.push_back(std::string(home) + (folder / "home").string());
  const testing_support::TemporaryFolder logs;
  testing_support::Running program(words, folder, logs.path, around);
  Run run;
  const auto begin = Clock::now();
  std::optional<int> status;
  while (!(status = program.ended())) {
    if (!run.hung && Clock::now() - begin > std::chrono::duration<double>(kHang)) {
      run.hung = true;
      program.signal(SIGKILL);
    }
    std::this_thread::sleep_for(std::chrono::milliseconds(2));
  }
  run.status = *status;
  run.err = jugendstil::readFile(logs.path / "err", std::size_t{1} << 26);
  return run;
}

std::set<std::string> filesIn(const fs::path& folder) {
  std::set<std::string> files;
  for (const auto& entry : fs::recursive_directory_iterator(folder))
    files.insert(fs::relative(entry.path(), folder).string());
  return files;
}

// What is wrong with how the program took it; empty where nothing is. `made` is what was not there before.
std::string wrongWith(const Run& run, const std::set<std::string>& made) {
  if (run.hung) return "hang";
  if (WIFSIGNALED(run.status)) return "signal " + std::to_string(WTERMSIG(run.status));
  const int code = WEXITSTATUS(run.status);
  if (code > 2) return "code " + std::to_string(code);
  if (run.err.find("something failed that should not have") != std::string::npos) return "unexpected failure";
  std::istringstream lines(run.err);
  int errors = 0;
  int others = 0;
  for (std::string line; std::getline(lines, line);) {
    if (line.rfind("note:", 0) == 0) continue;
    (line.rfind("jugendstil: ", 0) == 0 ? errors : others)++;
  }
  if (code != 0 && (errors != 1 || others > 0))
    return "error of " + std::to_string(errors + others) + " lines";
  // A failure leaves nothing but finished frames, and success no temporary file.
  for (const std::string& file : made) {
    const bool result = file.rfind("out.", 0) == 0 && file.find(".work/") == std::string::npos;
    if (code != 0 && result) return "left " + file;
    if (file.find(".part") != std::string::npos) return "left " + file;
  }
  return {};
}

class Attack {
 public:
  Attack(const fs::path& base, double seconds, unsigned seed)
      : base_(base), kinds_(fuzz::seedsIn(base / "seeds")), seconds_(seconds), seed_(seed) {}

  int run() {
    std::vector<std::thread> workers;
    for (int i = 0; i < kWorkers; ++i) workers.emplace_back([this, i] { work(i); });
    for (std::thread& each : workers) each.join();
    std::printf("%d damaged inputs\n", inputs_);
    for (const auto& [kind, count] : counts_) std::printf("  %-10s %d\n", kind.c_str(), count);
    std::printf("%zu found%s\n", found_, found_ > 0 ? ", in build/attack-found" : "");
    return found_ > 0 ? 1 : 0;
  }

 private:
  void work(int number) {
    const fs::path folder = base_ / ("work-" + std::to_string(number));
    std::mt19937 chance(seed_ * 2 + static_cast<unsigned>(number));
    const auto end = Clock::now() + std::chrono::duration<double>(seconds_);
    for (std::size_t turn = 0; Clock::now() < end; ++turn) {
      const fuzz::Kind& kind = kinds_[(turn * kWorkers + static_cast<std::size_t>(number)) % kinds_.size()];
      tryOne(kind, folder, chance);
    }
  }

  void tryOne(const fuzz::Kind& kind, const fs::path& folder, std::mt19937& chance) {
    fs::remove_all(folder);
    fs::create_directories(folder / "home" / "jugendstil");
    for (const std::string& beside : kind.beside)
      fs::copy(base_ / "seeds" / beside, folder / beside, fs::copy_options::recursive);
    const std::string bytes = fuzz::changed(kind.files, chance);
    jugendstil::File(folder / kind.name, jugendstil::File::Mode::replace).write(bytes);
    const Words& words = kind.commands[chance() % kind.commands.size()];
    const std::set<std::string> before = filesIn(folder);
    const Run run = runProgram(words, folder);
    std::set<std::string> made = filesIn(folder);
    for (const std::string& file : before) made.erase(file);
    const std::string wrong = wrongWith(run, made);
    const std::lock_guard<std::mutex> alone(one_);
    ++inputs_;
    ++counts_[kind.label];
    if (!wrong.empty()) keep(kind, words, bytes, wrong, run.err);
  }

  void keep(const fuzz::Kind& kind, const Words& words, const std::string& bytes, const std::string& wrong,
            const std::string& err) {
    const fs::path folder = base_.parent_path() / "attack-found" / std::to_string(found_++);
    fs::create_directories(folder);
    jugendstil::File(folder / fs::path(kind.name).filename(), jugendstil::File::Mode::replace).write(bytes);
    std::string told = wrong + "\njugendstil";
    for (const std::string& word : words) told += " " + word;
    jugendstil::File(folder / "how", jugendstil::File::Mode::replace).write(told + "\n" + err);
    std::printf("%s: %s\n", wrong.c_str(), folder.c_str());
    std::fflush(stdout);
  }

  fs::path base_;
  std::vector<fuzz::Kind> kinds_;
  double seconds_;
  unsigned seed_;
  std::mutex one_;
  int inputs_ = 0;
  std::map<std::string, int> counts_;
  std::size_t found_ = 0;
};

}  // namespace

int main(int count, char** words) {
  if (count < 2) return std::fputs("jugendstil_attack SECONDS [SEED]\n", stderr), 2;
  setenv("GOMP_SPINCOUNT", "2000", 1);
  const unsigned seed = count > 2 ? static_cast<unsigned>(std::atol(words[2])) : std::random_device{}();
  const fs::path base = fs::current_path() / "build" / "attack";
  fs::remove_all(base);
  fs::remove_all(base.parent_path() / "attack-found");
  std::printf("seed %u\n", seed);
  try {
    return Attack(base, std::atof(words[1]), seed).run();
  } catch (const jugendstil::Error& e) {
    return std::fprintf(stderr, "%s\n", e.what()), 2;
  }
}
