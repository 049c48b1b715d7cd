// SPDX-License-Identifier: Apache-2.0
// Ctrl-C as a wish rather than an end.
#pragma once

#include <signal.h>

#include <vector>

namespace jugendstil::cli {

// While it lives, SIGINT, SIGTERM, SIGHUP and SIGPIPE only set wanted(); a second SIGINT or SIGTERM, two
// seconds later, ends the program as usual.
class InterruptWatch {
 public:
  InterruptWatch();
  ~InterruptWatch();
  InterruptWatch(const InterruptWatch&) = delete;
  InterruptWatch& operator=(const InterruptWatch&) = delete;
  bool wanted() const;
  // Throws Stopped where it is.
  void stopIfWanted() const;

 private:
  std::vector<struct sigaction> before_;
};

// A pipe that nobody reads and a file that may not grow are errors where they happen, with a reason, and no
// end without a word. To be called once, first of all.
void hearWriteErrors();

}  // namespace jugendstil::cli
