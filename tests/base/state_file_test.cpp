// SPDX-License-Identifier: Apache-2.0
#include "base/state_file.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

struct Some {
  int count = 0;
  bool open = false;
  std::vector<float> few;
  std::vector<double> many;
  std::vector<int> none;

  void exchange(StateExchange& with) {
    with.value(count);
    with.value(open);
    with.values(few);
    with.values(many);
    with.values(none);
  }
};

Some some() { return {7, true, {1.5F, -2.5F}, std::vector<double>(300000, 0.1), {}}; }

void write(const std::filesystem::path& file, Some what) {
  StateWriter state(file, "likeness = 50\n");
  what.exchange(state);
  state.commit();
}

TEST(StateFile, ComesBackAsItWasKept) {
  const TemporaryFolder folder;
  write(folder / "a.unfinished", some());
  EXPECT_EQ(makingOfState(folder / "a.unfinished"), "likeness = 50\n");
  Some back;
  back.none = {1, 2};
  StateReader state(folder / "a.unfinished", "likeness = 50\n");
  back.exchange(state);
  EXPECT_EQ(back.count, 7);
  EXPECT_TRUE(back.open);
  EXPECT_EQ(back.few, some().few);
  EXPECT_EQ(back.many, some().many);
  EXPECT_TRUE(back.none.empty());
  int more = 0;
  EXPECT_THROW(state.value(more), Error);
  EXPECT_EQ(filesIn(folder.path), std::vector<std::string>{"a.unfinished"});
}

TEST(StateFile, WithoutCommitNothingIsLeft) {
  const TemporaryFolder folder;
  {
    StateWriter state(folder / "a.unfinished", "x");
    Some what = some();
    what.exchange(state);
  }
  EXPECT_TRUE(filesIn(folder.path).empty());
}

TEST(StateFile, WhatIsDamagedOrAnothersIsNoState) {
  const TemporaryFolder folder;
  const auto file = folder / "a.unfinished";
  EXPECT_EQ(makingOfState(file), std::nullopt);
  write(file, some());
  EXPECT_THROW(StateReader(file, "likeness = 20\n"), Error);
  const std::string whole = contentOf(file);
  for (const std::size_t length : {std::size_t{0}, std::size_t{10}, std::size_t{40}, whole.size() - 1}) {
    writeContent(file, whole.substr(0, length));
    EXPECT_EQ(makingOfState(file), std::nullopt) << length;
  }
  for (const std::size_t at : {std::size_t{3}, std::size_t{24}, std::size_t{60}, whole.size() - 2}) {
    std::string flipped = whole;
    flipped[at] = static_cast<char>(flipped[at] ^ 1);
    writeContent(file, flipped);
    EXPECT_EQ(makingOfState(file), std::nullopt) << at;
    EXPECT_THROW(StateReader(file, "likeness = 50\n"), Error);
  }
}

}  // namespace
}  // namespace jugendstil
