// SPDX-License-Identifier: Apache-2.0
#include "base/atomic_file.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

TEST(AtomicFile, AbandonedWritesLeaveTheOldFile) {
  const TemporaryFolder folder;
  writeContent(folder / "a.txt", "old");
  {
    const AtomicFile file(folder / "a.txt");
    writeContent(file.temporary(), "half of the ne");
  }
  EXPECT_EQ(contentOf(folder / "a.txt"), "old");
  EXPECT_EQ(testing_support::filesIn(folder.path).size(), 1U);
  writeFileAtomically(folder / "a.txt", "new");
  EXPECT_EQ(contentOf(folder / "a.txt"), "new");
}

TEST(AtomicFile, EveryNameThatTheSystemTakesWorks) {
  const TemporaryFolder folder;
  const std::string longest(255, 'n');
  const std::string longEnding = "a." + std::string(253, 'e');
  for (const std::string& name : {std::string("ready?.txt"), std::string("a%d b\nc.txt"),
                                  std::string("\xFF\xFE.txt"), longest, longEnding, std::string(".hidden")}) {
    writeFileAtomically(folder / name, "kept");
    EXPECT_EQ(contentOf(folder / name), "kept") << name;
  }
  EXPECT_EQ(filesIn(folder.path).size(), 6U);
}

TEST(AtomicFile, TemporaryFilesHaveNamesThatNobodyForetells) {
  const TemporaryFolder folder;
  const AtomicFile a(folder / "x.png");
  const AtomicFile b(folder / "x.png");
  EXPECT_NE(a.temporary(), b.temporary());
  EXPECT_TRUE(isLeftOver(a.temporary(), folder / "x.png"));
  EXPECT_FALSE(isLeftOver(a.temporary(), folder / "y.png"));
  EXPECT_FALSE(isLeftOver(folder / "x.png", folder / "x.png"));
}

TEST(AtomicFile, WhatAppearsInTheMeantimeIsKeptWhereThatIsWanted) {
  const TemporaryFolder folder;
  const auto written = [&](const char* name, AtomicFile::Appeared appeared, bool before) {
    if (before) writeContent(folder / name, "old");
    AtomicFile file(folder / name, appeared);
    writeContent(file.temporary(), "ours");
    if (!before) writeContent(folder / name, "another's");
    file.commit();
  };
  EXPECT_THROW(written("a.txt", AtomicFile::Appeared::kept, false), Error);
  EXPECT_EQ(contentOf(folder / "a.txt"), "another's");
  written("b.txt", AtomicFile::Appeared::kept, true);
  EXPECT_EQ(contentOf(folder / "b.txt"), "ours");
  written("c.txt", AtomicFile::Appeared::replaced, false);
  EXPECT_EQ(contentOf(folder / "c.txt"), "ours");
  EXPECT_EQ(filesIn(folder.path).size(), 3U);
}

TEST(AtomicFile, LeftOversOfTheDeadGoAndThoseOfTheLivingStay) {
  const TemporaryFolder folder;
  const AtomicFile living(folder / "x.png");
  const std::string dead = ".x.0123abcd.part.png";
  const std::string anothers = ".y.0123abcd.part.png";
  const std::string hidden = ".x.notes.part.png";
  for (const std::string& name : {dead, anothers, hidden}) writeContent(folder / name, "half");
  fs::create_symlink(folder / anothers, folder / ".x.00000000.part.png");
  const AtomicFile next(folder / "x.png");
  EXPECT_TRUE(fs::exists(living.temporary()));
  EXPECT_TRUE(fs::exists(next.temporary()));
  EXPECT_FALSE(fs::exists(folder / dead));
  EXPECT_TRUE(fs::exists(folder / anothers));
  EXPECT_TRUE(fs::exists(folder / hidden));
}

TEST(AtomicFile, SaysWhereItCannotBeWritten) {
  const TemporaryFolder folder;
  EXPECT_THROW(AtomicFile(folder / "none" / "a.png"), Error);
  EXPECT_THROW(AtomicFile{folder.path}, Error);
}

}  // namespace
}  // namespace jugendstil
