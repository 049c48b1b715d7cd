#include "cli/command.h"

int main(int count, char** words) { return jugendstil::cli::runProgram({words + 1, words + count}); }
