// SPDX-License-Identifier: Apache-2.0
#include "film/lay_clip.h"

#include <fmt/format.h>

#include <cmath>
#include <memory>
#include <optional>

#include "base/error.h"
#include "clip/clip_writer.h"
#include "film/mask_follower.h"
#include "image/layer.h"
#include "image/mask.h"
#include "image/resample.h"
#include "motion/cut.h"

namespace jugendstil {
namespace {

// Proportions may differ by so much: sizes are rounded to even pixels.
constexpr double kSameShape = 0.03;

// A frame of the clip, and how it came out of the one before.
struct Moment {
  Image frame;
  std::int64_t number = 0;
  std::optional<Motion> motion;
  bool cut = false;
};

// One film with its mask.
class LaidFilm {
 public:
  LaidFilm(const LaidPainting& asked, const ClipInfo& clip)
      : asked_(asked), source_(openClip(asked.file.string())) {
    const ClipInfo& own = source_->info();
    if (own.times.size() != clip.times.size())
      throw Error(
          fmt::format("{} has {} frames, the clip {}; a film is laid over the clip that it was made from",
                      asked.file.string(), own.times.size(), clip.times.size()));
    const double ratio = 1.0 * own.width * clip.height / (1.0 * own.height * clip.width);
    if (std::abs(ratio - 1) > kSameShape)
      throw Error(fmt::format("{} is {}x{}, another format than the clip's {}x{}", asked.file.string(),
                              own.width, own.height, clip.width, clip.height));
    if (isClipName(asked.mask.file.string())) {
      masks_ = openClip(asked.mask.file.string());
      asked_.mask.file.clear();
    }
  }

  // The next frame, laid over `picture`, which is empty where the clip's cannot be read; false where its own
  // cannot. All are read each time, so that they stay together.
  bool layOver(Image& picture, const Moment& moment) {
    Image film;
    const bool there = source_->read(film) == FrameState::read;
    Image drawn;
    const bool masked = !masks_ || masks_->read(drawn) == FrameState::read;
    if (picture.empty()) return there;
    if (!masked) throw Error(fmt::format("frame {} of the masks cannot be read", moment.number));
    const auto mask = maskAt(moment, drawn);
    if (!there) return false;
    film = resizePhoto(film, picture.width, picture.height);
    Layer({asked_.opacity, asked_.blend, mask}, picture.width, picture.height).combine(picture, film);
    picture = std::move(film);
    return true;
  }

  bool follows() const { return follower_.has_value(); }

 private:
  // `drawn` is the frame of the masks' clip, where there is one.
  std::optional<Image> maskAt(const Moment& moment, const Image& drawn) {
    std::optional<Image> mask = followed(moment);
    if (drawn.empty()) return mask;
    Image own(drawn.width, drawn.height, 1);
    for (std::size_t i = 0; i < own.area(); ++i) own.pixels[i] = drawn.pixel(i)[0];
    own = resizedMask(own, moment.frame.width, moment.frame.height);
    return mask ? bothOf(own, *mask) : own;
  }

  std::optional<Image> followed(const Moment& moment) {
    if (!begun_) {
      begun_ = true;
      auto mask = maskOf(asked_.mask, moment.frame.width, moment.frame.height);
      if (mask) follower_.emplace(moment.frame, *mask);
      return mask;
    }
    if (moment.cut && follower_) {
      follower_.reset();
      ended_ = true;
    }
    if (follower_ && moment.motion) follower_->follow(moment.frame, *moment.motion);
    if (follower_) return follower_->mask();
    if (!ended_ || asked_.mask.file.empty()) return std::nullopt;
    return Image(moment.frame.width, moment.frame.height, 1);
  }

  LaidPainting asked_;
  std::unique_ptr<FrameSource> source_;
  std::unique_ptr<FrameSource> masks_;
  std::optional<MaskFollower> follower_;
  bool begun_ = false;  // with the first frame that could be read
  bool ended_ = false;  // at a cut
};

class Laying {
 public:
  Laying(const std::string& clip, const std::vector<LaidPainting>& films, const std::string& target,
         int quality)
      : clip_(openClip(clip)) {
    const ClipInfo& info = clip_->info();
    for (const LaidPainting& film : films) films_.emplace_back(film, info);
    ClipFormat format;
    format.codec = codecForName(target);
    format.quality = quality;
    const int even = halvesChroma(format.codec) ? 2 : 1;
    format.width = info.width / even * even;
    format.height = info.height / even * even;
    format.bits = info.bits;
    format.rate = info.rate;
    format.timeBase = info.timeBase;
    format.colour = info.colour;
    format.firstNumber = info.firstNumber;
    std::optional<SoundSource> sound;
    if (!info.sound.empty()) sound = SoundSource{clip, 0, info.seconds > 0 ? info.seconds : 1e9};
    writer_ = createClip(target, format, sound);
    result_.width = format.width;
    result_.height = format.height;
    result_.frames = static_cast<std::int64_t>(info.times.size());
  }

  LaidClip run(const std::function<void(std::int64_t, std::int64_t)>& progress) {
    for (std::int64_t f = 0; f < result_.frames; ++f) {
      if (progress) progress(f, result_.frames);
      layFrame(f);
    }
    writer_->finish();
    return std::move(result_);
  }

 private:
  void layFrame(std::int64_t number) {
    Moment moment = momentAt(number);
    Image picture = moment.frame;
    bool whole = !picture.empty();
    for (LaidFilm& film : films_) whole = film.layOver(picture, moment) && whole;
    if (!whole) result_.missing.push_back(number);
    if (!picture.empty()) last_ = std::move(picture);
    if (last_.empty()) last_ = Image(result_.width, result_.height, 3);
    writer_->write(last_, clip_->info().times[number]);
  }

  // Motion is only looked for where a mask follows it.
  Moment momentAt(std::int64_t number) {
    Moment moment;
    moment.number = number;
    if (clip_->read(moment.frame) != FrameState::read) {
      moment.frame = {};
      return moment;
    }
    moment.frame = resizePhoto(moment.frame, result_.width, result_.height);
    bool follows = grey_.width == 0;
    for (const LaidFilm& film : films_) follows = follows || film.follows();
    if (!follows) return moment;
    GreyFrame grey = greyOf(moment.frame);
    if (grey_.width > 0) {
      moment.motion = motionBetween(grey, grey_, number - 1);
      moment.cut = isCut(histogramDistance(before_, moment.frame), coverage(moment.motion->trust));
      if (moment.cut) result_.cuts.push_back(number);
    }
    grey_ = std::move(grey);
    before_ = moment.frame;
    return moment;
  }

  std::unique_ptr<FrameSource> clip_;
  std::vector<LaidFilm> films_;
  std::unique_ptr<ClipWriter> writer_;
  LaidClip result_;
  GreyFrame grey_;  // of the frame before
  Image before_;
  Image last_;
};

}  // namespace

LaidClip layOverClip(const std::string& clip, const std::vector<LaidPainting>& films,
                     const std::string& target, int quality,
                     const std::function<void(std::int64_t, std::int64_t)>& progress) {
  return Laying(clip, films, target, quality).run(progress);
}

}  // namespace jugendstil
