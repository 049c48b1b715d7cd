// SPDX-License-Identifier: Apache-2.0
#include "cli/interrupt.h"

#include <array>
#include <csignal>
#include <ctime>

#include "base/stop.h"

namespace jugendstil::cli {
namespace {

// A signal handler can reach nothing but globals.
volatile std::sig_atomic_t interruptWanted = 0;
volatile std::sig_atomic_t interruptSecond = 0;

// A key that bounces, and programs that signal a process and then its group, mean it once. Seconds.
constexpr std::time_t kOnce = 2;

// The terminal was closed, and whoever reads our output has gone: both mean that nobody waits for the rest.
constexpr std::array kSignals{SIGINT, SIGTERM, SIGHUP, SIGPIPE};

// Who presses Ctrl-C a second time does not want to wait; a pipe breaks anew with every line.
bool endsTheSecondTime(int signal) { return signal == SIGINT || signal == SIGTERM; }

void onSignal(int signal) {
  const auto now = static_cast<std::sig_atomic_t>(std::time(nullptr));
  if (interruptWanted == 0) {
    interruptWanted = 1;
    interruptSecond = now;
  } else if (endsTheSecondTime(signal) && now - interruptSecond >= kOnce) {
    std::signal(signal, SIG_DFL);
    std::raise(signal);
  }
}

}  // namespace

InterruptWatch::InterruptWatch() {
  interruptWanted = 0;
  for (const int signal : kSignals) {
    struct sigaction action {};
    action.sa_handler = onSignal;
    before_.emplace_back();
    sigaction(signal, &action, &before_.back());
  }
}

InterruptWatch::~InterruptWatch() {
  for (std::size_t i = 0; i < kSignals.size(); ++i) sigaction(kSignals[i], &before_[i], nullptr);
}

bool InterruptWatch::wanted() const { return interruptWanted != 0; }

void InterruptWatch::stopIfWanted() const {
  if (wanted()) throw Stopped{};
}

void hearWriteErrors() {
  std::signal(SIGPIPE, SIG_IGN);
  std::signal(SIGXFSZ, SIG_IGN);
}

}  // namespace jugendstil::cli
