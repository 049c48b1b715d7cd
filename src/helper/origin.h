// SPDX-License-Identifier: Apache-2.0
// The process that helpers are copies of, made when the program begins; for src/helper only.
#pragma once

#include <sys/types.h>

#include <cstddef>
#include <span>

#include "helper/asker.h"

namespace jugendstil {

// A helper's process, and the memory that it and this process see.
struct HelperProcess {
  pid_t number = 0;
  int place = -1;  // in the memory
  std::span<std::byte> memory;
};

// Makes it. To be called before there are threads; the second time nothing happens.
void startOrigin();
// Whether that was called here.
bool hasOrigin();

// Makes one that works and talks through this socket, which stays the caller's. Gives the system's number for
// why not where that fails.
int startProcess(HelperWork work, int socket, HelperProcess& made);

// After its end: its place is another's.
void freePlace(const HelperProcess& process);

}  // namespace jugendstil
