// SPDX-License-Identifier: Apache-2.0
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <string_view>

#include "cli/command.h"
#include "cli/interrupt.h"
#include "cli/say.h"

namespace {

// Loading all libraries a second time takes as long again: nothing for those who only ask, or for commands
// that are done in about that time.
bool isBrief(int count, char** words) {
  constexpr std::array<std::string_view, 7> kBrief{"lay",     "look",    "mask", "compare",
                                                   "history", "network", "shelf"};
  return count < 2 || std::find(kBrief.begin(), kBrief.end(), words[1]) != kBrief.end() ||
         std::any_of(words + 1, words + count, [](std::string_view word) {
           return word == "--help" || word == "-h" || word == "help" || word == "--version" || word == "-V";
         });
}

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
  jugendstil::cli::openStreams();
  jugendstil::cli::hearWriteErrors();
  if (!isBrief(count, words)) waitBriefly(words);
  return jugendstil::cli::runProgram({words + 1, words + count});
}
