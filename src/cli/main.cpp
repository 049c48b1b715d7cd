// SPDX-License-Identifier: Apache-2.0
#include "cli/command.h"
#include "cli/interrupt.h"
#include "cli/say.h"
#include "helper/helper.h"

int main(int count, char** words) {
  jugendstil::cli::openStreams();
  jugendstil::cli::hearWriteErrors();
  jugendstil::startHelpers();
  return jugendstil::cli::runProgram({words + 1, words + count});
}
