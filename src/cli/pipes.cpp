// SPDX-License-Identifier: Apache-2.0
#include "cli/pipes.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr const char* kInput = "standard input";
constexpr const char* kOutput = "standard output";

// The extension for what a file's first bytes say it is; empty where nobody knows.
std::string extensionFor(std::string_view head) {
  using namespace std::string_view_literals;
  const auto begins = [&](std::string_view with) { return head.starts_with(with); };
  if (begins("\x89PNG"sv)) return ".png";
  if (begins("\xFF\xD8\xFF"sv)) return ".jpg";
  if (begins("II*\0"sv) || begins("MM\0*"sv)) return ".tif";
  if (begins("RIFF"sv) && head.substr(0, 12).ends_with("WEBP"sv)) return ".webp";
  if (begins("\x76\x2F\x31\x01"sv)) return ".exr";
  const std::size_t text = std::min(head.find_first_not_of(" \t\r\n\xEF\xBB\xBF"), head.size());
  if (head.substr(text).starts_with("<"sv))
    return head.find("<svg"sv) != std::string_view::npos ? ".svg" : ".clf";
  if (head.find("LUT_3D_SIZE"sv) != std::string_view::npos) return ".cube";
  const bool plain = std::none_of(head.begin(), head.end(), [](char c) {
    return static_cast<unsigned char>(c) < ' ' && !std::isspace(c);
  });
  return plain && head.find('=') != std::string_view::npos ? ".toml" : "";
}

void writeAll(int to, std::string_view bytes) {
  while (!bytes.empty()) {
    const ssize_t n = ::write(to, bytes.data(), bytes.size());
    if (n < 0 && errno == EINTR) continue;
    if (n < 0 && errno == EPIPE) return;  // who went away did not want the rest
    if (n < 0) throw DiskError("standard output did not take the result", std::strerror(errno));
    bytes.remove_prefix(n);
  }
}

}  // namespace

Pipes::~Pipes() {
  std::error_code code;
  if (!folder_.empty()) fs::remove_all(folder_, code);
  if (sink_ >= 0) ::close(sink_);
}

const fs::path& Pipes::folder() {
  if (!folder_.empty()) return folder_;
  std::string name = (fs::temp_directory_path() / "jugendstil-XXXXXX").string();
  if (mkdtemp(name.data()) == nullptr)
    throw DiskError(fmt::format("no folder can be made in {}", fs::temp_directory_path().string()),
                    std::strerror(errno));
  folder_ = name;
  return folder_;
}

fs::path Pipes::input(const std::string& word) {
  if (word != "-") return word;
  if (hasInput()) throw UsageError("standard input (-) can be one file only; name the others");
  std::vector<char> block(std::size_t{1} << 20);
  std::string_view bytes = readInput(block);
  if (bytes.empty()) throw Error("nothing came through standard input; send a file there, or name it");
  const std::string extension = extensionFor(bytes.substr(0, 4096));
  if (extension.empty())
    throw Error("standard input is no picture or look by its first bytes; save it as a file, and name that");
  input_ = folder() / (kInput + extension);
  File to(input_, File::Mode::create);
  for (; !bytes.empty(); bytes = readInput(block)) to.write(bytes);
  to.close();
  return input_;
}

std::string Pipes::output(const std::string& word, const po::variables_map& given, const fs::path& like,
                          const std::string& usual) {
  const std::string format = textOf(given, "format");
  if (word != "-") {
    if (!format.empty()) throw UsageError("--format is for -o -; a file's name says its format");
    return word;
  }
  if (textOf(given, "progress") == "json")
    throw UsageError("--progress json and -o - would both write to standard output; name a file");
  std::string extension = format.empty() ? extensionOf(like) : "." + format;
  if (extension.empty()) extension = usual;
  output_ = folder() / (kOutput + extension);
  std::fflush(stdout);
  sink_ = ::dup(STDOUT_FILENO);
  if (sink_ < 0 || ::dup2(STDERR_FILENO, STDOUT_FILENO) < 0)
    throw DiskError("standard output cannot be written", std::strerror(errno));
  return output_.string();
}

// Names of files in error messages stand with their folder.
std::string Pipes::named(std::string message) const {
  for (const auto& [file, name] : {std::pair{input_, kInput}, std::pair{output_, kOutput}}) {
    if (file.empty()) continue;
    for (std::size_t at = 0; (at = message.find(file.string(), at)) != std::string::npos;)
      message.replace(at, file.string().size(), name);
  }
  return message;
}

void Pipes::send() const {
  File from(output_, File::Mode::read);
  std::vector<char> block(std::size_t{1} << 20);
  for (std::size_t n = from.read(block); n > 0; n = from.read(block)) writeAll(sink_, {block.data(), n});
}

int Pipes::run(const std::function<int()>& work) {
  try {
    const int code = work();
    std::error_code none;
    if (code == 0 && hasOutput() && fs::exists(output_, none)) send();
    return code;
  } catch (const UsageError& e) {
    throw UsageError(named(e.what()));
  } catch (const Error& e) {
    throw Error(named(e.what()));
  }
}

void addFormatOption(po::options_description& options, const char* formats) {
  options.add_options()("format", textValue(formats),
                        "the format in which -o - writes to standard output (that of the input)");
}

}  // namespace jugendstil::cli
