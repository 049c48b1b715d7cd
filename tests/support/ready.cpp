// SPDX-License-Identifier: Apache-2.0
// Loaded in front of the system's library (LD_PRELOAD): the built program waits before its main() until a
// test wants it to run, and then does so in a copy of itself. All its libraries are loaded by then, which
// takes longer than most of what tests ask of it.
//
// A message is strings, each with a zero behind it: the folder to work in; where standard output, standard
// error go to and standard input comes from ("closed"; empty: left as it is); most bytes of a file and of
// memory (0: any); the file that takes the process's number, and the one that takes its status; how many
// settings of the environment follow, those; and the words.
#include <dlfcn.h>
#include <fcntl.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>
#include <vector>

namespace {

using Main = int (*)(int, char**, char**);

Main& programsMain() {
  static Main function = nullptr;
  return function;
}

void setStream(int stream, const std::string& what, int flags) {
  if (what.empty()) return;
  close(stream);
  if (what == "closed") return;
  const int file = open(what.c_str(), flags, 0600);
  if (file != stream) {
    dup2(file, stream);
    close(file);
  }
}

void setLimit(__rlimit_resource what, rlim_t most) {
  if (most == 0) return;
  const rlimit limit{most, most};
  setrlimit(what, &limit);
}

// Whole or not at all, for it is waited for.
void tell(const std::string& path, int number) {
  const std::string part = path + ".part";
  if (std::FILE* file = std::fopen(part.c_str(), "w")) {
    std::fprintf(file, "%d", number);
    std::fclose(file);
    std::rename(part.c_str(), path.c_str());
  }
}

[[noreturn]] void run(const std::vector<std::string>& told) {
  std::size_t at = 0;
  if (chdir(told[at++].c_str()) != 0) _exit(126);
  setStream(STDOUT_FILENO, told[at++], O_CREAT | O_WRONLY);
  setStream(STDERR_FILENO, told[at++], O_CREAT | O_WRONLY);
  setStream(STDIN_FILENO, told[at++], O_RDONLY);
  setLimit(RLIMIT_FSIZE, std::stoul(told[at++]));
  setLimit(RLIMIT_AS, std::stoul(told[at++]));
  at += 2;
  for (int settings = std::stoi(told[at++]); settings > 0; --settings, ++at) {
    const auto equals = told[at].find('=');
    setenv(told[at].substr(0, equals).c_str(), told[at].substr(equals + 1).c_str(), 1);
  }
  std::vector<std::string> words(told.begin() + static_cast<std::ptrdiff_t>(at), told.end());
  std::vector<char*> arguments;
  for (std::string& word : words) arguments.push_back(word.data());
  const int count = static_cast<int>(arguments.size());
  arguments.push_back(nullptr);
  const int code = programsMain()(count, arguments.data(), environ);
  // Without what libraries do at the end: one of them would wait for threads that a copy does not have.
  std::fflush(nullptr);
  // faults.cpp, and the sanitizer that looks for leaks; where they are there.
  for (const char* last : {"jugendstil_note_failure", "__lsan_do_leak_check"})
    if (void* const function = dlsym(RTLD_DEFAULT, last)) reinterpret_cast<void (*)()>(function)();
  _exit(code);
}

// Runs the program in one process and waits for it in another.
void serve(const std::vector<std::string>& told) {
  if (fork() != 0) return;
  signal(SIGCHLD, SIG_DFL);
  const pid_t child = fork();
  if (child == 0) run(told);
  tell(told[6], child);
  int status = 0;
  waitpid(child, &status, 0);
  tell(told[7], status);
  _exit(0);
}

int serveTests(int, char**, char**) {
  const int socket = std::atoi(std::getenv("JUGENDSTIL_READY"));
  unsetenv("JUGENDSTIL_READY");
  unsetenv("LD_PRELOAD");
  fcntl(socket, F_SETFD, FD_CLOEXEC);
  signal(SIGCHLD, SIG_IGN);
  std::vector<char> message(std::size_t{1} << 17);
  for (;;) {
    const ssize_t size = recv(socket, message.data(), message.size(), 0);
    if (size <= 0) _exit(0);  // the test is over
    std::vector<std::string> told;
    for (const char* at = message.data(); at < message.data() + size; at += told.back().size() + 1)
      told.emplace_back(at);
    serve(told);
  }
}

}  // namespace

extern "C" int __libc_start_main(Main main, int count, char** words, void (*init)(), void (*fini)(),
                                 void (*loaderFini)(), void* stackEnd) {
  using Start = int (*)(Main, int, char**, void (*)(), void (*)(), void (*)(), void*);
  const auto start = reinterpret_cast<Start>(dlsym(RTLD_NEXT, "__libc_start_main"));
  programsMain() = main;
  return start(std::getenv("JUGENDSTIL_READY") != nullptr ? serveTests : main, count, words, init, fini,
               loaderFini, stackEnd);
}
