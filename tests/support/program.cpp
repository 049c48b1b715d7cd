// SPDX-License-Identifier: Apache-2.0
#include "support/program.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>

#include "support/running.h"
#include "support/support.h"

namespace testing_support {

namespace fs = std::filesystem;

namespace {

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
  return resultOf(Running(words, folder, logs.path, around).wait(), logs.path);
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
  Running program(words, folder, logs.path, {});
  for (;;) {
    if (const auto status = program.ended()) return resultOf(*status, logs.path);
    if (when(logs.path)) break;
    usleep(2000);
  }
  program.signal(signal);
  return resultOf(program.wait(), logs.path);
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

std::vector<std::string> failingCall(char kind, int number, const fs::path& log) {
  return withFaults({fmt::format("JUGENDSTIL_FAULT={}:{}:{}", kind, number, log.string())});
}

std::vector<std::string> notedSyncs(const fs::path& log) {
  return withFaults({fmt::format("JUGENDSTIL_NOTED_SYNCS={}", log.string())});
}

std::vector<std::string> withProcessors(int processors) {
  return withFaults({fmt::format("JUGENDSTIL_PROCESSORS={}", processors)});
}

}  // namespace testing_support
