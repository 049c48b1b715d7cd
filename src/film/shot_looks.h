// SPDX-License-Identifier: Apache-2.0
// Steady grading: one look for each shot.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "film/frame_feed.h"
#include "grade/match.h"

namespace jugendstil {

struct ShotLook {
  std::int64_t begin = 0;  // place of the shot's first frame
  Look look;
};

// Goes through all frames, finds the cuts, and matches each shot as a whole - statistics of up to 32 of its
// frames, evenly spread - to the references: what brightens or darkens within a shot stays, nothing pumps.
// `progress` (frames gone through) may throw Stopped.
std::vector<ShotLook> matchShots(FrameFeed& feed, const std::vector<SharedStatistics>& references,
                                 const MatchSettings& settings,
                                 const std::function<void(std::int64_t)>& progress);

}  // namespace jugendstil
