// SPDX-License-Identifier: Apache-2.0
#include "shelf/archive_reader.h"

#include "base/zip.h"
#include "helper/packing.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// The first question is the archive; then each is a size, the most that the content of the present file may
// have, or 0 for the name of the next one.
void unpack(Asker& asker) {
  ZipReader zip(asker.next());
  asker.answer("");
  for (;;) {
    const std::string question = asker.next();
    const auto most = Unpacker(question).value<std::size_t>();
    asker.answer(most == 0 ? zip.next() : zip.content(most));
  }
}

double patienceWith(const fs::path& archive) {
  std::error_code code;
  const auto size = fs::file_size(archive, code);
  return patienceFor(code ? 0 : size);
}

std::string sizeQuestion(std::size_t size) {
  Packer question;
  question.value(size);
  return question.bytes();
}

}  // namespace

ArchiveReader::ArchiveReader(const fs::path& archive)
    : patience_(patienceWith(archive)), helper_(unpack, archive.string()) {
  ask(archive.string());
}

std::string ArchiveReader::next() { return ask(sizeQuestion(0)); }

std::string ArchiveReader::content(std::size_t maxBytes) { return ask(sizeQuestion(maxBytes)); }

std::string ArchiveReader::ask(const std::string& question) {
  helper_.allow(patience_);
  helper_.ask(question);
  return helper_.answer();
}

}  // namespace jugendstil
