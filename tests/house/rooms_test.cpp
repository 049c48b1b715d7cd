// SPDX-License-Identifier: Apache-2.0
// The house plan of HACKING.md: includes run from floor to lower floor, and nowhere round a circle.
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <string>
#include <vector>

#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::sourceFolder;

// From the ground up. Rooms of one floor do not know each other.
const std::vector<std::vector<std::string>> kFloors{
    {"base"},
    {"helper"},
    {"image", "network", "transport", "recipe", "solver"},
    {"clip", "weave", "grade", "motion", "shelf", "lay"},
    {"style", "report"},
    {"paint"},
    {"learn", "amplify"},
    {"film"},
    {"dive"},
    {"history"},
    {"cli"},
};

int floorOf(const std::string& room) {
  for (std::size_t i = 0; i < kFloors.size(); ++i) {
    if (std::find(kFloors[i].begin(), kFloors[i].end(), room) != kFloors[i].end()) return static_cast<int>(i);
  }
  return -1;
}

// A header and the source of its name are one part, "room/name"; each with the parts that it includes.
using Includes = std::map<std::string, std::set<std::string>>;

Includes includesOf(const fs::path& folder) {
  Includes out;
  for (const auto& entry : fs::recursive_directory_iterator(folder)) {
    const fs::path& file = entry.path();
    if (file.extension() != ".h" && file.extension() != ".cpp") continue;
    const std::string part = fs::relative(file, folder).replace_extension().string();
    std::set<std::string>& included = out[part];
    std::ifstream in(file);
    const std::string start = "#include \"";
    for (std::string line; std::getline(in, line);) {
      if (line.compare(0, start.size(), start) != 0) continue;
      const std::string name = line.substr(start.size(), line.find('"', start.size()) - start.size());
      const std::string other = fs::path(name).replace_extension().string();
      if (other != part && other.find('/') != std::string::npos) included.insert(other);
    }
  }
  return out;
}

std::string roomOf(const std::string& part) { return part.substr(0, part.find('/')); }

// The parts of a circle, or none. `path` leads to `part`; `done` are in no circle.
std::vector<std::string> circleFrom(const std::string& part, const Includes& includes,
                                    std::vector<std::string>& path, std::set<std::string>& done) {
  const auto before = std::find(path.begin(), path.end(), part);
  if (before != path.end()) return {before, path.end()};
  if (done.count(part) != 0) return {};
  path.push_back(part);
  if (const auto own = includes.find(part); own != includes.end()) {
    for (const std::string& other : own->second) {
      if (auto circle = circleFrom(other, includes, path, done); !circle.empty()) return circle;
    }
  }
  path.pop_back();
  done.insert(part);
  return {};
}

std::vector<std::string> circleIn(const Includes& includes) {
  std::set<std::string> done;
  for (const auto& [part, others] : includes) {
    std::vector<std::string> path;
    if (auto circle = circleFrom(part, includes, path, done); !circle.empty()) return circle;
  }
  return {};
}

TEST(Rooms, IncludesRunDownward) {
  for (const auto& [part, others] : includesOf(sourceFolder() / "src")) {
    const std::string room = roomOf(part);
    EXPECT_GE(floorOf(room), 0) << room << " is on no floor";
    for (const std::string& other : others) {
      if (roomOf(other) != room) {
        EXPECT_LT(floorOf(roomOf(other)), floorOf(room)) << part << " includes " << other;
      }
    }
  }
}

TEST(Rooms, NothingIncludesItselfByWayOfOthers) {
  const Includes includes = includesOf(sourceFolder() / "src");
  EXPECT_GT(includes.size(), 100U);
  EXPECT_EQ(circleIn(includes), std::vector<std::string>{});
}

TEST(Rooms, ACircleIsFound) {
  const Includes includes{{"a/a", {"a/b"}}, {"a/b", {"a/c", "a/d"}}, {"a/c", {}}, {"a/d", {"a/b"}}};
  EXPECT_EQ(circleIn(includes), (std::vector<std::string>{"a/b", "a/d"}));
}

// Two types of one name and namespace in headers that never meet would compile, and mix up what they hold.
TEST(Rooms, NoTwoTypesOfHeadersHaveOneName) {
  std::map<std::string, std::string> places;
  const std::regex type("(class|struct) ([A-Za-z]+)( final)?( :.*)? \\{.*");
  for (const auto& entry : fs::recursive_directory_iterator(sourceFolder() / "src")) {
    const fs::path& file = entry.path();
    if (file.extension() != ".h") continue;
    const std::string space = file.parent_path().filename() == "cli" ? "cli::" : "";
    std::ifstream in(file);
    for (std::string line; std::getline(in, line);) {
      std::smatch found;
      if (!std::regex_match(line, found, type)) continue;
      const auto [place, fresh] = places.emplace(space + found[2].str(), file.string());
      EXPECT_TRUE(fresh) << found[2].str() << " is in " << file << " and in " << place->second;
    }
  }
  EXPECT_GT(places.size(), 200U);
}

}  // namespace
}  // namespace jugendstil
