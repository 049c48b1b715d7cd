#include "cli/interrupt.h"

#include <csignal>

#include "base/stop.h"

namespace jugendstil::cli {
namespace {

// A signal handler can reach nothing but a global.
volatile std::sig_atomic_t interruptWanted = 0;

void onSignal(int) { interruptWanted = 1; }

}  // namespace

InterruptWatch::InterruptWatch() {
  interruptWanted = 0;
  struct sigaction action {};
  action.sa_handler = onSignal;
  action.sa_flags = static_cast<int>(SA_RESETHAND);
  sigaction(SIGINT, &action, nullptr);
  sigaction(SIGTERM, &action, nullptr);
}

InterruptWatch::~InterruptWatch() {
  std::signal(SIGINT, SIG_DFL);
  std::signal(SIGTERM, SIG_DFL);
}

bool InterruptWatch::wanted() const { return interruptWanted != 0; }

void InterruptWatch::stopIfWanted() const {
  if (wanted()) throw Stopped{};
}

}  // namespace jugendstil::cli
