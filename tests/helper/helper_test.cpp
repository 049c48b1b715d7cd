// SPDX-License-Identifier: Apache-2.0
#include "helper/helper.h"

#include <fcntl.h>
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <filesystem>
#include <numeric>
#include <thread>
#include <vector>

#include "base/error.h"
#include "helper/lockdown.h"
#include "helper/packing.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::refusal;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

// Before any test makes a thread.
[[maybe_unused]] const bool kStarted = (startHelpers(), true);

void turnRound(Asker& asker) {
  for (;;) {
    std::string bytes = asker.next();
    std::reverse(bytes.begin(), bytes.end());
    asker.answer(bytes);
  }
}

TEST(Helper, AnswersWhateverItsLength) {
  Helper helper(turnRound, "file");
  // Nothing, little, just as much as goes at once, more than the shared memory holds.
  for (const std::size_t size : {0UL, 1UL, 524288UL, 524289UL, 9000001UL}) {
    std::string bytes(size, '\0');
    std::iota(bytes.begin(), bytes.end(), 'a');
    helper.ask(bytes);
    std::string back(size + 3, '\0');
    EXPECT_EQ(helper.answerPart(std::as_writable_bytes(std::span(back))), size);
    back.resize(size);
    std::reverse(back.begin(), back.end());
    EXPECT_EQ(back, bytes);
  }
}

TEST(Helper, WorksInAnotherProcess) {
  const auto tellNumber = [](Asker& asker) {
    asker.next();
    asker.answer(std::to_string(getpid()));
  };
  const std::string first = answerOfHelper(tellNumber, "file", {});
  EXPECT_NE(first, std::to_string(getpid()));
  EXPECT_NE(first, answerOfHelper(tellNumber, "file", {}));
}

TEST(Helper, ManyWorkAtOnceAndDoNotMixUp) {
  std::vector<std::thread> askers;
  std::atomic<int> right = 0;
  for (int i = 0; i < 12; ++i) {
    askers.emplace_back([&, i] {
      Helper helper(turnRound, "file");
      for (int k = 0; k < 5; ++k) {
        const std::string bytes(700000 + i * 1000, static_cast<char>('a' + i));
        helper.ask(bytes);
        right += helper.answer() == bytes ? 1 : 0;
      }
    });
  }
  for (std::thread& each : askers) each.join();
  EXPECT_EQ(right, 60);
}

TEST(Helper, PlacesAreFreeAgain) {
  for (int i = 0; i < 200; ++i) EXPECT_EQ(answerOfHelper(turnRound, "file", "ab"), "ba");
}

TEST(Helper, WhatItThrowsArrivesAsItIs) {
  const auto throwing = [](Asker& asker) {
    const std::string kind = asker.next();
    if (kind == "disk") throw DiskError("photo.png: cannot be read", "Input/output error");
    if (kind == "place")
      throw std::filesystem::filesystem_error("exists", "photos",
                                              std::make_error_code(std::errc::permission_denied));
    if (kind == "usage") throw UsageError("no such word");
    if (kind == "error") throw Error("photo.png: is damaged");
    if (kind == "memory") throw std::bad_alloc();
    throw std::runtime_error("words of a library");
  };
  try {
    answerOfHelper(throwing, "photo.png", "disk");
    ADD_FAILURE();
  } catch (const DiskError& e) {
    EXPECT_STREQ(e.what(), "photo.png: cannot be read: Input/output error");
    EXPECT_EQ(e.reason(), "Input/output error");
  }
  EXPECT_EQ(refusal([&] { answerOfHelper(throwing, "photo.png", "place"); }),
            "photos: cannot be read: Permission denied");
  EXPECT_THROW(answerOfHelper(throwing, "photo.png", "usage"), UsageError);
  EXPECT_EQ(refusal([&] { answerOfHelper(throwing, "photo.png", "error"); }), "photo.png: is damaged");
  EXPECT_NE(refusal([&] { answerOfHelper(throwing, "photo.png", "memory"); }).find("memory"),
            std::string::npos);
  const std::string other = refusal([&] { answerOfHelper(throwing, "photo.png", "other"); });
  EXPECT_EQ(other.find("words of a library"), std::string::npos);
  EXPECT_EQ(other.find("photo.png: "), 0U);
}

TEST(Helper, OneThatBreaksDownIsAnError) {
  for (const int signal : {SIGSEGV, SIGABRT, SIGKILL}) {
    const std::string message = refusal([&] {
      Packer question;
      question.value(signal);
      answerOfHelper([](Asker& asker) { kill(getpid(), Unpacker(asker.next()).value<int>()), abort(); },
                     "photo.tif", question.bytes());
    });
    EXPECT_NE(message.find("photo.tif: is damaged"), std::string::npos) << message;
  }
  EXPECT_EQ(answerOfHelper(turnRound, "file", "ab"), "ba");  // the next one is there
}

TEST(Helper, OneThatEndsInTheMiddleOfALongQuestionIsAnError) {
  const std::string message =
      refusal([] { answerOfHelper([](Asker&) { _exit(0); }, "photo.tif", std::string(5000000, 'a')); });
  EXPECT_NE(message.find("photo.tif"), std::string::npos);
  // What it said before it went is heard.
  const std::string said = refusal([] {
    answerOfHelper([](Asker&) { throw Error("said first"); }, "photo.tif", std::string(5000000, 'a'));
  });
  EXPECT_EQ(said, "said first");
}

TEST(Helper, OneThatTakesForEverIsStopped) {
  const auto begin = std::chrono::steady_clock::now();
  const std::string message = refusal([] {
    answerOfHelper(
        [](Asker&) {
          for (std::atomic<int> i = 0;;) ++i;
        },
        "drawing.svg", "x", 0.3);
  });
  EXPECT_NE(message.find("drawing.svg: is still not read"), std::string::npos) << message;
  EXPECT_LT(std::chrono::steady_clock::now() - begin, std::chrono::seconds(60));
}

#ifndef JUGENDSTIL_SANITIZED

TEST(Helper, CanDoNoHarm) {
  const TemporaryFolder folder;
  const std::filesystem::path kept = folder / "kept";
  writeContent(kept, "what was there");
  const std::string did = answerOfHelper(
      [](Asker& asker) {
        const std::string file = asker.next();
        std::string did;
        const auto note = [&](const char* what, bool done) { did += done ? std::string(what) + " " : ""; };
        note("reads", open(file.c_str(), O_RDONLY) >= 0);
        note("writes", open(file.c_str(), O_WRONLY) >= 0);
        note("empties", open(file.c_str(), O_RDONLY | O_TRUNC) >= 0);
        note("makes", open((file + ".new").c_str(), O_RDWR | O_CREAT, 0600) >= 0);
        note("removes", unlink(file.c_str()) == 0);
        note("renames", rename(file.c_str(), (file + ".other").c_str()) == 0);
        note("links", symlink(file.c_str(), (file + ".link").c_str()) == 0);
        note("forks", fork() >= 0);
        note("calls", socket(AF_INET, SOCK_STREAM, 0) >= 0);
        note("signals", kill(getppid(), 0) == 0);
        char* words[] = {const_cast<char*>("/bin/true"), nullptr};
        note("starts", execv(words[0], words) == 0);
        std::thread([&] { note("threads", true); }).join();
        asker.answer(did);
      },
      "file", kept.string());
  EXPECT_EQ(did, "reads threads ");
  EXPECT_EQ(contentOf(kept), "what was there");
}

TEST(Helper, HasNoMoreMemoryThanThereIs) {
  const std::string message = refusal([] {
    answerOfHelper(
        [](Asker& asker) {
          std::vector<std::vector<char>> all;
          // Asked for, not touched: the limit counts, and nobody's memory goes.
          for (;;) all.emplace_back().reserve(std::size_t{1} << 30);
          asker.answer({});
        },
        "photo.tif", "x");
  });
  EXPECT_NE(message.find("photo.tif: needs more memory than there is"), std::string::npos) << message;
}

#endif

TEST(Packing, IsNotBelieved) {
  Packer packer;
  packer.value<std::uint64_t>(1000);
  packer.value(7);
  EXPECT_THROW(Unpacker(packer.bytes()).text(), Error);
  EXPECT_THROW(Unpacker(packer.bytes()).values<float>(), Error);
  Packer endless;
  endless.value<std::uint64_t>(~std::uint64_t{0});
  EXPECT_THROW(Unpacker(endless.bytes()).values<double>(), Error);
  EXPECT_THROW(Unpacker("abc").value<int>(), Error);
}

TEST(Packing, GivesBackWhatWasPutIn) {
  Packer packer;
  packer.text("a name");
  packer.value(2.5);
  packer.values(std::vector<std::int64_t>{1, -2, 3});
  packer.text("");
  Unpacker unpacker(packer.bytes());
  EXPECT_EQ(unpacker.text(), "a name");
  EXPECT_EQ(unpacker.value<double>(), 2.5);
  EXPECT_EQ(unpacker.values<std::int64_t>(), (std::vector<std::int64_t>{1, -2, 3}));
  EXPECT_EQ(unpacker.text(), "");
}

}  // namespace
}  // namespace jugendstil
