// SPDX-License-Identifier: Apache-2.0
// Single pictures and looks through standard input and output: "-" in place of a file's name.
#pragma once

#include <filesystem>
#include <functional>
#include <string>

#include "cli/options.h"

namespace jugendstil::cli {

// What comes through standard input lies in a file for as long as the object lives, and so does what is made
// for standard output until it is sent there.
class Pipes {
 public:
  Pipes() = default;
  ~Pipes();
  Pipes(const Pipes&) = delete;
  Pipes& operator=(const Pipes&) = delete;

  // The file that a word names: for "-" all of standard input, with an extension by its content. Throws
  // UsageError where "-" is named a second time, Error where nothing comes or nobody knows what it is.
  std::filesystem::path input(const std::string& word);
  bool hasInput() const { return !input_.empty(); }

  // Where a result that was asked for as `word` is to be written: for "-" a file in the format of --format,
  // or else in that of `like`, or else in `usual` (".png"); from then on what is said on standard output goes
  // to standard error. Throws UsageError.
  std::string output(const std::string& word, const po::variables_map& given,
                     const std::filesystem::path& like, const std::string& usual);
  bool hasOutput() const { return !output_.empty(); }

  // Calls `work`, sends what it made where that is 0, and returns it. In messages of errors the files have
  // the names of the streams.
  int run(const std::function<int()>& work);

 private:
  const std::filesystem::path& folder();
  std::string named(std::string message) const;
  void send() const;

  std::filesystem::path folder_;
  std::filesystem::path input_;
  std::filesystem::path output_;
  int sink_ = -1;  // standard output, while that means standard error
};

// The option that says in which format "-o -" writes.
void addFormatOption(po::options_description& options, const char* formats);

}  // namespace jugendstil::cli
