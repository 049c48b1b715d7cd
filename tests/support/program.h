// SPDX-License-Identifier: Apache-2.0
// The built program, run as a user runs it, also where things go wrong around it.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace testing_support {

struct RunResult {
  int code = 0;
  std::string out;
  std::string err;
};

// What is unusual around a run.
struct Surroundings {
  std::string out;                       // what standard output is: "/dev/full", "closed"; empty: kept
  std::string err;                       // the same of standard error
  std::uint64_t fileSize = 0;            // most bytes that a file may have; 0: any
  std::vector<std::string> environment;  // "NAME=value"
  std::string in{};                      // a file that standard input reads; empty: the test's own
  std::uint64_t memory = 0;              // most bytes of addresses; 0: any
};

// Runs the built program in a folder and waits.
RunResult runProgram(const std::vector<std::string>& words, const std::filesystem::path& folder,
                     const Surroundings& around = {});

// Runs the program, which has to end with the code and one line on standard error that holds `part`, and to
// leave no new file.
void expectError(const std::vector<std::string>& words, const std::filesystem::path& folder, int code,
                 const std::string& part, const Surroundings& around = {});

// Starts the program, sends the signal as soon as `marker` appears on standard error, and waits.
RunResult runAndSignal(const std::vector<std::string>& words, const std::filesystem::path& folder,
                       const std::string& marker, int signal);

// The same as soon as `when` says so.
RunResult runAndSignalWhen(const std::vector<std::string>& words, const std::filesystem::path& folder,
                           const std::function<bool()>& when, int signal);

// Where the built program lies.
std::string programPath();

// An environment for a program whose reads of files named like that fail (support/faults.cpp): those of the
// open-th opening, from 1, after so many went well.
std::vector<std::string> failingReads(const std::string& name, int open, int after);

// An environment for a program of which one call fails, the number-th of its kind, from 1: 'w'rites, 's'yncs,
// 'r'enames, large 'a'llocations, 't'hreads that are started; with a capital letter all from there on fail.
// `log` is made where it came to that.
std::vector<std::string> failingCall(char kind, int number, const std::filesystem::path& log);

// An environment for a program that notes in a file of which files and folders it asked that they be safe on
// the disk.
std::vector<std::string> notedSyncs(const std::filesystem::path& log);

// An environment for a program that is told of so many processors.
std::vector<std::string> withProcessors(int processors);

}  // namespace testing_support
