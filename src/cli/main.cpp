#include <unistd.h>

#include <cstdlib>

#include "cli/command.h"

namespace {

// Threads that wait for one another spin for a while before they sleep, by default so long that a second
// program on the same processors slows a painting five- to tenfold; a short while costs a painting alone
// nothing. The OpenMP runtime reads it before main() begins, so the program starts itself once more with it.
void waitBriefly(char** words) {
  if (std::getenv("GOMP_SPINCOUNT") != nullptr || std::getenv("OMP_WAIT_POLICY") != nullptr) return;
  setenv("GOMP_SPINCOUNT", "2000", 0);
  execv("/proc/self/exe", words);  // where it cannot, things are only slower
}

}  // namespace

int main(int count, char** words) {
  waitBriefly(words);
  return jugendstil::cli::runProgram({words + 1, words + count});
}
