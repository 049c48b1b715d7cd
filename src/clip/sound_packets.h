// SPDX-License-Identifier: Apache-2.0
// The sound of a clip as it stands there, undecoded, taken out of it by a helper.
#pragma once

#include <string>
#include <vector>

#include "clip/av.h"
#include "helper/helper.h"

namespace jugendstil {

struct SoundStream {
  int number = 0;  // among the clip's streams
  av::Parameters parameters;
  AVRational timeBase{1, 1};
};

class SoundPackets {
 public:
  // From so many seconds of the clip on, or a little before. Throws Error where it cannot be read.
  SoundPackets(const std::string& clip, double from);

  const std::vector<SoundStream>& streams() const { return streams_; }
  // The next packet of any of them; false at the end.
  bool next(AVPacket& packet);

 private:
  Helper helper_;
  std::vector<SoundStream> streams_;
};

}  // namespace jugendstil
