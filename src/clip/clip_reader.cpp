// SPDX-License-Identifier: Apache-2.0
// Clips, read by a helper.
#include <algorithm>
#include <filesystem>
#include <span>

#include "base/error.h"
#include "clip/av_source.h"
#include "clip/clip.h"
#include "clip/frame_folder.h"
#include "helper/helper.h"
#include "helper/packing.h"

namespace jugendstil {
namespace {

enum class Question : char { read, seek };

void pack(Packer& to, const ClipInfo& info) {
  to.text(info.path.string());
  to.value(info.width);
  to.value(info.height);
  to.value(info.bits);
  to.value(info.rate);
  to.value(info.timeBase);
  to.value(info.colour);
  to.values(info.times);
  to.value(info.seconds);
  to.value(info.firstNumber);
  to.text(info.sound);
  to.text(info.codec);
  to.value(info.variableRate);
  to.value(info.endsEarly);
}

ClipInfo unpackedInfo(Unpacker& from) {
  ClipInfo info;
  info.path = from.text();
  info.width = from.value<int>();
  info.height = from.value<int>();
  info.bits = from.value<int>();
  info.rate = from.value<Ratio>();
  info.timeBase = from.value<Ratio>();
  info.colour = from.value<ColourTags>();
  info.times = from.values<std::int64_t>();
  info.seconds = from.value<double>();
  info.firstNumber = from.value<std::int64_t>();
  info.sound = from.text();
  info.codec = from.text();
  info.variableRate = from.value<bool>();
  info.endsEarly = from.value<bool>();
  return info;
}

void answerFrame(Asker& asker, FrameSource& source) {
  Image frame;
  const FrameState state = source.read(frame);
  Packer about;
  about.value(state);
  about.value(source.position());
  about.value(state == FrameState::read ? frame.channels : 0);
  asker.answer(about.bytes());
  if (state == FrameState::read)
    asker.answer({reinterpret_cast<const char*>(frame.pixels.data()), frame.pixels.size() * sizeof(float)});
}

// The work of the helper.
void readClip(Asker& asker) {
  const auto source = openAvSource(asker.next());
  Packer about;
  pack(about, source->info());
  asker.answer(about.bytes());
  for (;;) {
    const std::string question = asker.next();
    Unpacker asked(question);
    if (asked.value<Question>() == Question::read) {
      answerFrame(asker, *source);
      continue;
    }
    source->seek(asked.value<std::int64_t>());
    Packer reached;
    reached.value(source->position());
    asker.answer(reached.bytes());
  }
}

class HelpedSource final : public FrameSource {
 public:
  explicit HelpedSource(const std::string& name) : helper_(readClip, name) {
    constexpr double kPixelsPerSecond = 3e6;
    std::error_code code;
    const auto size = std::filesystem::file_size(name, code);
    // To find a frame may take decoding all before it.
    const double patience = patienceFor(code ? 0 : 2 * size);
    helper_.allow(patience);
    helper_.ask(name);
    const std::string answer = helper_.answer();
    Unpacker about(answer);
    info_ = unpackedInfo(about);
    if (info_.width < 1 || info_.height < 1 || info_.rate.value() <= 0 || info_.timeBase.value() <= 0)
      throw Error(name + " is not a clip that can be read");
    helper_.allow(patience + static_cast<double>(cellCount(info_.width, info_.height)) / kPixelsPerSecond);
  }

  const ClipInfo& info() const override { return info_; }
  std::int64_t position() const override { return next_; }

  FrameState read(Image& frame) override {
    Packer question;
    question.value(Question::read);
    helper_.ask(question.bytes());
    const std::string answer = helper_.answer();
    Unpacker about(answer);
    const auto state = about.value<FrameState>();
    next_ = about.value<std::int64_t>();
    const auto channels = about.value<int>();
    if (state != FrameState::read) return state == FrameState::end ? state : FrameState::missing;
    if (channels != 3 && channels != 4) throw Error(info_.path.string() + ": a frame has no colours");
    frame = Image(info_.width, info_.height, channels);
    const auto to = std::as_writable_bytes(std::span(frame.pixels));
    if (helper_.answerPart(to) != to.size()) throw Error(info_.path.string() + ": a frame is cut short");
    return state;
  }

  void seek(std::int64_t frame) override {
    if (frame == next_) return;
    Packer question;
    question.value(Question::seek);
    question.value(frame);
    helper_.ask(question.bytes());
    const std::string answer = helper_.answer();
    next_ = Unpacker(answer).value<std::int64_t>();
  }

 private:
  Helper helper_;
  ClipInfo info_;
  std::int64_t next_ = 0;
};

}  // namespace

std::unique_ptr<FrameSource> openClip(const std::string& name) {
  if (isFramePattern(name)) return openFrameFolder(name);
  return std::make_unique<HelpedSource>(name);
}

}  // namespace jugendstil
