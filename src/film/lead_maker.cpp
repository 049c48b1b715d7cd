// SPDX-License-Identifier: Apache-2.0
#include "film/lead_maker.h"

#include <algorithm>
#include <array>

#include "image/mask.h"
#include "motion/trust.h"
#include "motion/warp.h"

namespace jugendstil {
namespace {

// Older frames that are looked at, counted back from the frame, where the latest leaves something open.
constexpr std::array<std::int64_t, 3> kOlder{4, 11, LeadMaker::kFarthest};
// Below this part of the picture it is not worth the flow.
constexpr double kOpenEnough = 0.004;
constexpr int kSoftness = 1;
// A part of the picture is held in full after so many frames.
constexpr float kRipening = 0.2F;

// What `older` knows goes where `lead` knows nothing.
void addWhereOpen(Lead& lead, const Lead& older) {
  for (std::size_t i = 0; i < lead.known.pixels.size(); ++i) {
    const float own = lead.known.pixels[i];
    const float more = older.known.pixels[i] * (1 - own);
    if (more <= 0) continue;
    for (std::size_t c = 0; c < 3; ++c) {
      float& v = lead.picture.pixels[i * 3 + c];
      v = (v * own + older.picture.pixels[i * 3 + c] * more) / (own + more);
    }
    lead.known.pixels[i] = own + more;
    lead.fresh.pixels[i] = std::max(0.0F, lead.fresh.pixels[i] - more * (1 - older.fresh.pixels[i]));
    lead.strength.pixels[i] += older.strength.pixels[i] * (1 - own);
  }
}

}  // namespace

void LeadMaker::add(std::int64_t place, GreyFrame frame) {
  frames_.push_back({place, std::move(frame)});
  while (frames_.front().place < place - kFarthest) frames_.pop_front();
}

Motion LeadMaker::toLatest(const GreyFrame& frame) const {
  return motionBetween(frame, frames_.back().frame, frames_.back().place);
}

Lead LeadMaker::lead(const GreyFrame& frame, const Image& before, const Motion& latest,
                     const std::function<Image(std::int64_t)>& painted) const {
  Lead lead = carriedAlong(painted(latest.before), latest);
  lead.before = clipped(warped(before, latest.back));
  const std::int64_t now = latest.before + 1;
  for (const std::int64_t back : kOlder) {
    if (1 - coverage(lead.known) < kOpenEnough) break;
    // The frame that far back, or the next older one where that one is missing.
    const auto seen =
        std::find_if(frames_.rbegin(), frames_.rend(), [&](const Seen& s) { return s.place <= now - back; });
    if (seen == frames_.rend()) break;
    Motion motion = motionBetween(frame, seen->frame, seen->place);
    // Over several frames flow goes astray more easily than it notices.
    motion.seen = bothOf(motion.seen, alikeMask(frame, seen->frame, motion.back));
    addWhereOpen(lead, carriedAlong(painted(motion.before), motion));
  }
  return lead;
}

Lead carriedAlong(const Image& painted, const Motion& motion) {
  const Image carried = clipped(warped(painted, motion.back));
  Lead lead{rgbOf(carried), softened(motion.seen, kSoftness), softened(motion.trust, kSoftness)};
  lead.fresh = Image(carried.width, carried.height, 1);
  for (std::size_t i = 0; i < carried.area(); ++i) {
    const float ripe = carried.channels == 4 ? carried.pixels[i * 4 + 3] : 1.0F;
    lead.strength.pixels[i] *= ripe;
    lead.fresh.pixels[i] = 1 - lead.known.pixels[i] * ripe;
  }
  lead.settled = lead.strength;
  return lead;
}

Image carriedCanvas(const Image& canvas, const Flow& back) {
  const int left = (canvas.width - back.width) / 2;
  const int top = (canvas.height - back.height) / 2;
  Flow whole(canvas.width, canvas.height);
  for (int y = 0; y < canvas.height; ++y) {
    for (int x = 0; x < canvas.width; ++x) {
      const std::size_t from =
          back.index(std::clamp(x - left, 0, back.width - 1), std::clamp(y - top, 0, back.height - 1));
      const std::size_t to = whole.index(x, y);
      whole.u[to] = back.u[from];
      whole.v[to] = back.v[from];
    }
  }
  Image out = clipped(warped(canvas, whole));
  // Mirrored about the picture's edge.
  const auto reflected = [](int i, int begin, int count) {
    const int back = i < begin ? 2 * begin - 1 - i : i >= begin + count ? 2 * (begin + count) - 1 - i : i;
    return std::clamp(back, begin, begin + count - 1);
  };
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      const std::size_t i = whole.index(x, y);
      const float sx = static_cast<float>(x) + whole.u[i];
      const float sy = static_cast<float>(y) + whole.v[i];
      const bool inside = sx >= 0 && sy >= 0 && sx <= static_cast<float>(out.width - 1) &&
                          sy <= static_cast<float>(out.height - 1);
      if (inside) continue;
      for (int c = 0; c < out.channels; ++c)
        out.at(x, y, c) = out.at(reflected(x, left, back.width), reflected(y, top, back.height), c);
    }
  }
  return out;
}

Image withRipeness(const Image& painted, const Lead* lead) {
  Image out(painted.width, painted.height, 4, 1.0F);
  for (std::size_t i = 0; i < out.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) out.pixels[i * 4 + c] = painted.pixels[i * 3 + c];
    if (lead != nullptr) out.pixels[i * 4 + 3] = std::min(1.0F, lead->strength.pixels[i] + kRipening);
  }
  return out;
}

Lead crossFaded(const Lead& a, const Lead& b, double by) {
  Lead out = a;
  for (std::size_t i = 0; i < out.fresh.pixels.size() && !b.fresh.empty(); ++i)
    out.fresh.pixels[i] = std::min(a.fresh.pixels[i], b.fresh.pixels[i]);
  const auto part = static_cast<float>(by);
  for (std::size_t i = 0; i < out.known.pixels.size(); ++i) {
    const float wa = a.known.pixels[i] * (1 - part);
    const float wb = b.known.pixels[i] * part;
    const float sum = wa + wb;
    out.known.pixels[i] = std::max(a.known.pixels[i], b.known.pixels[i]);
    out.strength.pixels[i] = a.strength.pixels[i] * (1 - part) + b.strength.pixels[i] * part;
    if (sum <= 1e-6F) continue;
    for (std::size_t c = 0; c < 3; ++c) {
      const std::size_t k = i * 3 + c;
      out.picture.pixels[k] = (a.picture.pixels[k] * wa + b.picture.pixels[k] * wb) / sum;
    }
  }
  return out;
}

}  // namespace jugendstil
