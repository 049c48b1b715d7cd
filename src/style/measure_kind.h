// SPDX-License-Identifier: Apache-2.0
// The style measures there are, by name.
#pragma once

#include <string>

namespace jugendstil {

enum class MeasureKind {
  gram,        // second moments of the channels (Gatys, Ecker & Bethge 2016)
  moments,     // means and standard deviations of the channels (Li, Wang, Liu & Hou 2017)
  sliced,      // sliced Wasserstein distance (Heitz, Vanhoey, Chambon & Belcour 2021)
  neighbours,  // each patch to the one most like it (Li & Wand 2016); see neighbours.h
  critic,      // a judge trained along the way (Goodfellow et al. 2014); see critic.h
};

// Throws UsageError for names that there are not.
MeasureKind measureFromName(const std::string& name);
std::string nameOf(MeasureKind kind);

}  // namespace jugendstil
