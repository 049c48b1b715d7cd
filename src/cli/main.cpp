// SPDX-License-Identifier: Apache-2.0
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <initializer_list>
#include <string_view>

#include "cli/command.h"
#include "cli/interrupt.h"
#include "cli/say.h"

namespace {

using Word = std::string_view;

bool isAmong(std::initializer_list<Word> words, Word word) {
  return std::find(words.begin(), words.end(), word) != words.end();
}

// Loading all libraries a second time takes as long again: nothing for those who only ask, or for commands
// that are done in about that time.
bool isBrief(int count, char** words) {
  if (count < 2) return true;
  const auto any = [&](std::initializer_list<Word> among) {
    return std::any_of(words + 1, words + count, [&](Word word) { return isAmong(among, word); });
  };
  if (any({"--help", "-h", "help", "--version", "-V"})) return true;
  return isAmong({"lay", "look", "mask", "history", "network", "shelf"}, words[1]) &&
         !any({"import", "--growth", "--show", "suits"});
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
