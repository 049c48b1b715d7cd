// SPDX-License-Identifier: Apache-2.0
// One painter for any reference: its net's normalisations follow from how the reference is painted.
#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "learn/manner.h"
#include "learn/net.h"
#include "learn/quick_painter.h"
#include "network/chain.h"

namespace jugendstil {

// It is trained for likenesses between these; others are taken for the nearer one.
inline constexpr double kLeastTrainedLikeness = 25;
inline constexpr double kMostTrainedLikeness = 75;

struct GeneralPainter {
  Net net;                // as painterNet() has it
  MannerNet manners{};    // gives its normalisations' scales and shifts
  std::string network{};  // check sum of the feature network whose bands say what a manner is
  std::map<std::string, std::string> notes{};  // how it was trained; for people
};

// The net for one manner. Throws Error for a manner of another length.
Net netFor(const GeneralPainter& general, std::span<const float> manner);

// A painter of these references, as if it had learned them; no steps are taken. Throws UsageError and Error
// as measureReferences does, and Error where the general painter knows another feature network's bands.
QuickPainter painterFor(const GeneralPainter& general, const Chain& chain,
                        const std::vector<PaintReference>& references, const LearnSettings& settings);

// Opset 13: `picture` and `painting` as in painters' files, and `manner` (1 x numbers), out of which MatMul
// makes what each InstanceNormalization takes. Equal painters give equal bytes. Throws as AtomicFile does.
void writeGeneralPainter(const std::filesystem::path& path, const GeneralPainter& painter);

// What writeGeneralPainter wrote. Throws Error that says what is damaged; DiskError where it cannot be read.
GeneralPainter readGeneralPainter(const std::filesystem::path& path);

}  // namespace jugendstil
