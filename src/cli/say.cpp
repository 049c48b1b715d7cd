// SPDX-License-Identifier: Apache-2.0
#include "cli/say.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <nlohmann/json.hpp>

#include "base/utf8.h"
#include "base/words.h"

namespace jugendstil::cli {

namespace {

void print(std::FILE* to, std::string_view text) {
  errno = 0;
  std::fwrite(text.data(), 1, text.size(), to);
  // Progress is of use only at once, and results must not wait for a program that may be killed.
  std::fflush(to);
  if (errno == EPIPE) std::clearerr(to);
}

}  // namespace

void sayText(std::FILE* to, std::string_view text) { print(to, harmless(std::string(text))); }

void sayOver(std::FILE* to, std::string_view text) { print(to, "\r\033[K" + onOneLine(std::string(text))); }

namespace {

nlohmann::json inUtf8(const nlohmann::json& value) {
  if (value.is_string()) return utf8Of(value.get<std::string>());
  if (!value.is_structured()) return value;
  nlohmann::json out = value;
  for (auto& [key, inner] : out.items()) inner = inUtf8(inner);
  return out;
}

}  // namespace

void sayJson(std::FILE* to, const nlohmann::json& object) { say(to, "{}\n", inUtf8(object).dump()); }

bool outputIsWhole() { return std::ferror(stdout) == 0; }

void openStreams() {
  for (const int stream : {STDIN_FILENO, STDOUT_FILENO, STDERR_FILENO}) {
    if (fcntl(stream, F_GETFD) >= 0 || errno != EBADF) continue;
    // The lowest number that is free is the one that is missing.
    const int opened = open("/dev/null", stream == STDIN_FILENO ? O_RDONLY : O_WRONLY);
    if (opened > STDERR_FILENO) close(opened);
  }
}

}  // namespace jugendstil::cli
