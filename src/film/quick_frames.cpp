// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <optional>

#include "film/frame_maker.h"
#include "film/quick_shot.h"
#include "image/mask.h"

namespace jugendstil {
namespace {

// At full steadiness this part of a frame is the one before, carried along, where it is trusted.
constexpr double kMostCarried = 0.8;

class QuickFrames final : public FrameMaker {
 public:
  QuickFrames(FilmWork& work, const KeyLeads& keys, int pass)
      : work_(work),
        keys_(keys),
        pass_(pass),
        shot_(*work.inputs.painter, work.painted, work.inputs.paint),
        carried_(static_cast<float>(kMostCarried * work.inputs.film.steady / 100)) {}

  void beginShot(const Image& photo, std::int64_t) override { shot_.begin(photo); }
  // What comes into view again the painter paints again as it was.
  LedBy ledBy() const override { return LedBy::latest; }

  MadeFrame make(const Image& photo, const std::optional<Lead>& lead, bool, double,
                 FrameRecord& record) override {
    if (const Image* key = keys_.keyAt(record.frame)) return {withRipeness(*key, nullptr), {}};
    const std::optional<Lead> all = pass_ == 1 ? keys_.joined(lead, record.frame, record.shot) : lead;
    Image painted = shot_.paint(photo);
    if (all) holdTo(*all, painted);
    return {withRipeness(painted, all ? &*all : nullptr), {}};
  }

 private:
  void holdTo(const Lead& lead, Image& painted) const {
    for (std::size_t i = 0; i < painted.pixels.size(); ++i)
      painted.pixels[i] +=
          carried_ * lead.strength.pixels[i / 3] * (lead.picture.pixels[i] - painted.pixels[i]);
  }

  FilmWork& work_;
  const KeyLeads& keys_;
  int pass_;
  QuickShot shot_;
  float carried_;
};

}  // namespace

std::unique_ptr<FrameMaker> makeQuickPainter(FilmWork& work, const KeyLeads& keys, int pass) {
  return std::make_unique<QuickFrames>(work, keys, pass);
}

}  // namespace jugendstil
