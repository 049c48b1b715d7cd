// SPDX-License-Identifier: Apache-2.0
#include "support/running.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <stdexcept>

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

void setLimit(__rlimit_resource what, rlim_t most) {
  if (most == 0) return;
  const rlimit limit{most, most};
  setrlimit(what, &limit);
}

// What tests see is not to hang on the defaults and the shelf of whoever runs them.
std::vector<std::string> environmentFor(const fs::path& logs, const Surroundings& around) {
  std::vector<std::string> all{"XDG_CONFIG_HOME=" + (logs / "config").string(),
                               "XDG_DATA_HOME=" + (logs / "data").string()};
  all.insert(all.end(), around.environment.begin(), around.environment.end());
  return all;
}

[[noreturn]] void execProgram(const std::vector<std::string>& words) {
  std::vector<char*> arguments;
  std::string program = JUGENDSTIL_PROGRAM;
  arguments.push_back(program.data());
  std::vector<std::string> copies = words;
  for (std::string& w : copies) arguments.push_back(w.data());
  arguments.push_back(nullptr);
  execv(program.c_str(), arguments.data());
  _exit(127);
}

pid_t started(const std::vector<std::string>& words, const fs::path& folder, const fs::path& logs,
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
  setLimit(RLIMIT_FSIZE, around.fileSize);
  setLimit(RLIMIT_AS, around.memory);
  for (const std::string& pair : environmentFor(logs, around)) {
    const auto equals = pair.find('=');
    setenv(pair.substr(0, equals).c_str(), pair.substr(equals + 1).c_str(), 1);
  }
  execProgram(words);
}

constexpr const char* kWithFaults = "LD_PRELOAD=" JUGENDSTIL_FAULTS;

bool hasFaults(const Surroundings& around) {
  return std::count(around.environment.begin(), around.environment.end(), kWithFaults) > 0;
}

int startReady(const std::string& libraries) {
  std::array<int, 2> ends{};
  if (socketpair(AF_UNIX, SOCK_SEQPACKET, 0, ends.data()) != 0) throw std::runtime_error("no socket");
  fcntl(ends[0], F_SETFD, FD_CLOEXEC);
  if (fork() == 0) {
    close(ends[0]);
    setenv("LD_PRELOAD", libraries.c_str(), 1);
    setenv("ASAN_OPTIONS", "verify_asan_link_order=0", 0);
    setenv("JUGENDSTIL_READY", std::to_string(ends[1]).c_str(), 1);
    execProgram({});
  }
  close(ends[1]);
  return ends[0];
}

// One that waits to be copied, until this process ends.
int readyProgram(bool faults) {
  if (faults) {
    static const int faulty = startReady(JUGENDSTIL_FAULTS " " JUGENDSTIL_READY_LIBRARY);
    return faulty;
  }
  static const int plain = startReady(JUGENDSTIL_READY_LIBRARY);
  return plain;
}

// The sanitizer of threads does not follow copies. A thread that OpenMP does not get ends the program by
// exit(), where a library would wait for threads of its own that a copy does not have.
bool mayBeCopied(const Surroundings& around) {
#ifdef __SANITIZE_THREAD__
  return false;
#else
  return std::none_of(around.environment.begin(), around.environment.end(), [](const std::string& pair) {
    return (pair.starts_with("LD_PRELOAD=") && pair != kWithFaults) ||
           pair.starts_with("JUGENDSTIL_FAULT=t") || pair.starts_with("JUGENDSTIL_FAULT=T");
  });
#endif
}

int numberIn(const fs::path& file) {
  while (!fs::exists(file)) usleep(500);
  return std::stoi(contentOf(file));
}

pid_t copied(const std::vector<std::string>& words, const fs::path& folder, const fs::path& logs,
             const Surroundings& around) {
  const auto streamOf = [&](const std::string& asked, const char* kept) {
    return asked.empty() ? (logs / kept).string() : asked;
  };
  std::vector<std::string> told{folder.string(),
                                streamOf(around.out, "out"),
                                streamOf(around.err, "err"),
                                around.in,
                                std::to_string(around.fileSize),
                                std::to_string(around.memory),
                                (logs / "process").string(),
                                (logs / "status").string()};
  // What a test has set since the program was loaded is for its copies, too.
  std::vector<std::string> environment;
  for (char** pair = environ; *pair != nullptr; ++pair) environment.emplace_back(*pair);
  const std::vector<std::string> own = environmentFor(logs, around);
  environment.insert(environment.end(), own.begin(), own.end());
  told.push_back(std::to_string(environment.size()));
  told.insert(told.end(), environment.begin(), environment.end());
  told.emplace_back(JUGENDSTIL_PROGRAM);
  told.insert(told.end(), words.begin(), words.end());
  std::string message;
  for (const std::string& one : told) message += one + '\0';
  if (send(readyProgram(hasFaults(around)), message.data(), message.size(), 0) !=
      static_cast<ssize_t>(message.size()))
    throw std::runtime_error("the program is not ready");
  return numberIn(logs / "process");
}

}  // namespace

Running::Running(const std::vector<std::string>& words, const fs::path& folder, const fs::path& logs,
                 const Surroundings& around)
    : logs_(logs), own_(!mayBeCopied(around)) {
  process_ = own_ ? started(words, folder, logs, around) : copied(words, folder, logs, around);
}

std::optional<int> Running::ended() {
  int status = 0;
  if (own_) return waitpid(process_, &status, WNOHANG) == 0 ? std::nullopt : std::optional(status);
  return fs::exists(logs_ / "status") ? std::optional(numberIn(logs_ / "status")) : std::nullopt;
}

int Running::wait() {
  if (!own_) return numberIn(logs_ / "status");
  int status = 0;
  waitpid(process_, &status, 0);
  return status;
}

void Running::signal(int number) const { kill(process_, number); }

}  // namespace testing_support
