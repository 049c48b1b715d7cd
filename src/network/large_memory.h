// SPDX-License-Identifier: Apache-2.0
// Memory for activations: large, aligned, and on large pages where the system has them, which streaming
// through tens of megabytes a layer is measurably glad of.
#pragma once

#include <cstddef>
#include <cstdlib>
#include <memory>
#include <new>

#ifdef __linux__
#include <sys/mman.h>
#endif

namespace jugendstil {

struct FreeMemory {
  void operator()(void* data) const { std::free(data); }
};
using LargeMemory = std::unique_ptr<void, FreeMemory>;

// At least `size` bytes, uninitialised. Throws std::bad_alloc.
inline LargeMemory allocateLarge(std::size_t size) {
  constexpr std::size_t kPage = std::size_t{2} << 20;
  const std::size_t alignment = size >= kPage ? kPage : 64;
  const std::size_t rounded = (size + alignment - 1) / alignment * alignment;
  LargeMemory memory(std::aligned_alloc(alignment, rounded));
  if (!memory) throw std::bad_alloc();
#ifdef __linux__
  if (size >= kPage) madvise(memory.get(), rounded, MADV_HUGEPAGE);
#endif
  return memory;
}

}  // namespace jugendstil
