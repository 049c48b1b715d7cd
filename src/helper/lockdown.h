// SPDX-License-Identifier: Apache-2.0
// What a process may still do that reads files from elsewhere.
#pragma once

#include <cstdint>

namespace jugendstil {

// From now on this process has at most so many bytes of memory of its own more than it has, leaves no core
// file, gains no rights, and, where the kernel has filters of system calls (seccomp), can neither write nor
// remove files, start programs, reach a network or signal others: of all calls those are left that reading
// and computing take. Says whether the filter holds. Nothing at all under sanitizers, which need more.
bool lockDown(std::uint64_t memory);

// Bytes that this process can still have: the machine's free memory, less where its limits are lower.
std::uint64_t freeMemory();

}  // namespace jugendstil
