// SPDX-License-Identifier: Apache-2.0
#include "support/program.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>

#include "support/support.h"

namespace testing_support {

namespace fs = std::filesystem;

namespace {

void setStream(int stream, const std::string& what, const fs::path& kept) {
  if (what == "closed") {
    close(stream);
    return;
  }
  const int file = open(what.empty() ? kept.c_str() : what.c_str(), O_CREAT | O_WRONLY, 0600);
  dup2(file, stream);
  close(file);
}

pid_t start(const std::vector<std::string>& words, const fs::path& folder, const fs::path& logs,
            const Surroundings& around) {
  const pid_t child = fork();
  if (child != 0) return child;
  if (chdir(folder.c_str()) != 0) _exit(126);
  setStream(STDOUT_FILENO, around.out, logs / "out");
  setStream(STDERR_FILENO, around.err, logs / "err");
  if (!around.in.empty()) {
    const int file = open(around.in.c_str(), O_RDONLY);
    dup2(file, STDIN_FILENO);
    close(file);
  }
  // What tests see is not to hang on the defaults and the shelf of whoever runs them.
  setenv("XDG_CONFIG_HOME", (logs / "config").c_str(), 1);
  setenv("XDG_DATA_HOME", (logs / "data").c_str(), 1);
  if (around.fileSize > 0) {
    const rlimit limit{around.fileSize, around.fileSize};
    setrlimit(RLIMIT_FSIZE, &limit);
  }
  for (const std::string& pair : around.environment) {
    const auto equals = pair.find('=');
    setenv(pair.substr(0, equals).c_str(), pair.substr(equals + 1).c_str(), 1);
  }
  std::vector<char*> arguments;
  std::string program = JUGENDSTIL_PROGRAM;
  arguments.push_back(program.data());
  std::vector<std::string> copies = words;
  for (std::string& w : copies) arguments.push_back(w.data());
  arguments.push_back(nullptr);
  execv(program.c_str(), arguments.data());
  _exit(127);
}

int exitCode(int status) { return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status); }

RunResult resultOf(int status, const fs::path& logs) {
  return {exitCode(status), contentOf(logs / "out"), contentOf(logs / "err")};
}

// Sanitizers want to be loaded first; here they need not be.
std::vector<std::string> withFaults(std::vector<std::string> environment) {
  environment.emplace_back("LD_PRELOAD=" JUGENDSTIL_FAULTS);
  environment.emplace_back("ASAN_OPTIONS=verify_asan_link_order=0:detect_leaks=0");
  return environment;
}

}  // namespace

RunResult runProgram(const std::vector<std::string>& words, const fs::path& folder,
                     const Surroundings& around) {
  const TemporaryFolder logs;
  int status = 0;
  waitpid(start(words, folder, logs.path, around), &status, 0);
  return resultOf(status, logs.path);
}

void expectError(const std::vector<std::string>& words, const fs::path& folder, int code,
                 const std::string& part, const Surroundings& around) {
  const auto before = filesIn(folder);
  const RunResult r = runProgram(words, folder, around);
  EXPECT_EQ(r.code, code) << r.err;
  EXPECT_NE(r.err.find(part), std::string::npos) << "got: " << r.err;
  EXPECT_EQ(std::count(r.err.begin(), r.err.end(), '\n'), 1) << r.err;
  EXPECT_EQ(r.err.rfind("jugendstil: ", 0), 0U) << r.err;
  EXPECT_EQ(filesIn(folder), before);
}

namespace {

RunResult runAndSignalAt(const std::vector<std::string>& words, const fs::path& folder,
                         const std::function<bool(const fs::path& logs)>& when, int signal) {
  const TemporaryFolder logs;
  const pid_t child = start(words, folder, logs.path, {});
  int status = 0;
  while (waitpid(child, &status, WNOHANG) == 0) {
    if (when(logs.path)) {
      kill(child, signal);
      waitpid(child, &status, 0);
      break;
    }
    usleep(2000);
  }
  return resultOf(status, logs.path);
}

}  // namespace

RunResult runAndSignal(const std::vector<std::string>& words, const fs::path& folder,
                       const std::string& marker, int signal) {
  const auto marked = [&](const fs::path& logs) {
    return contentOf(logs / "err").find(marker) != std::string::npos;
  };
  return runAndSignalAt(words, folder, marked, signal);
}

RunResult runAndSignalWhen(const std::vector<std::string>& words, const fs::path& folder,
                           const std::function<bool()>& when, int signal) {
  return runAndSignalAt(
      words, folder, [&](const fs::path&) { return when(); }, signal);
}

std::string programPath() { return JUGENDSTIL_PROGRAM; }

std::vector<std::string> failingReads(const std::string& name, int open, int after) {
  return withFaults({fmt::format("JUGENDSTIL_FAILING_READS={}:{}:{}", open, after, name)});
}

std::vector<std::string> notedSyncs(const fs::path& log) {
  return withFaults({fmt::format("JUGENDSTIL_NOTED_SYNCS={}", log.string())});
}

}  // namespace testing_support
