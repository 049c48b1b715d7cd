// SPDX-License-Identifier: Apache-2.0
// Helpers: processes of this program's own that read files from elsewhere. The libraries that decode such
// files are large, and a damaged or hostile one may bring them down, fill the memory or never end; in a
// helper that is one Error, and it can do no harm (lockdown.h).
//
// They are copies of a copy of this process that was made at its start, when it had no threads, and so are
// there within a millisecond. A program that did not call startHelpers() has threads in their place, which do
// the same work without protection.
#pragma once

#include <cstddef>
#include <memory>
#include <span>
#include <string>
#include <string_view>

#include "helper/asker.h"

namespace jugendstil {

// To be called once, first of all, before there are threads. Throws nothing: where no process can be made,
// the first Helper says so.
void startHelpers();

// A helper at work. One thread at a time asks it.
class Helper {
 public:
  // `about`: the file that is read, for messages; empty where whoever catches them puts it there. Throws
  // DiskError where no process can be made.
  Helper(HelperWork work, std::string about);
  ~Helper();
  Helper(const Helper&) = delete;
  Helper& operator=(const Helper&) = delete;

  // From now on each question may take so many seconds of a processor. The usual is 10.
  void allow(double seconds);

  // All that answer and the others throw beside what is said: whatever the work threw, and Error where the
  // helper went down or took too long.
  void ask(std::string_view question);
  // The next answer to it.
  std::string answer();
  // The same to where it is to lie, without a copy between; says how long it is. Throws Error where it has no
  // room there.
  std::size_t answerPart(std::span<std::byte> to);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

// One question and one answer. Throws as Helper does.
std::string answerOfHelper(HelperWork work, const std::string& about, std::string_view question,
                           double seconds = 10);

// Seconds of a processor that a file of this size may take to be read: ten, and more where it is large.
double patienceFor(std::uint64_t bytes);

}  // namespace jugendstil
