// Ctrl-C as a wish rather than an end.
#pragma once

namespace jugendstil::cli {

// While it lives, the first SIGINT or SIGTERM only sets wanted(); the second ends the program as usual.
class InterruptWatch {
 public:
  InterruptWatch();
  ~InterruptWatch();
  InterruptWatch(const InterruptWatch&) = delete;
  InterruptWatch& operator=(const InterruptWatch&) = delete;
  bool wanted() const;
  // Throws Stopped where it is.
  void stopIfWanted() const;
};

}  // namespace jugendstil::cli
