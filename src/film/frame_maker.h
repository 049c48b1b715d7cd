// SPDX-License-Identifier: Apache-2.0
// How one frame is made: painted, or graded.
#pragma once

#include <memory>
#include <optional>

#include "film/key_leads.h"
#include "film/lead_maker.h"
#include "film/work.h"

namespace jugendstil {

struct MadeFrame {
  Image picture;  // of painted frames with the ripeness as alpha; empty means failure, as an Error does
  Image canvas;   // of painted frames: the picture with its margin
};

// Which of the frames before lead a frame.
enum class LedBy { none, latest, all };

class FrameMaker {
 public:
  virtual ~FrameMaker() = default;
  // A shot begins with this frame, or is taken up again with it.
  virtual void beginShot(const Image& photo, std::int64_t place) = 0;
  // Makes a frame from itself and its lead, if any, and notes loss and steps in the record. Careful tries
  // take smaller steps.
  virtual MadeFrame make(const Image& photo, const std::optional<Lead>& lead, bool careful, double lossBefore,
                         FrameRecord& record) = 0;
  virtual LedBy ledBy() const = 0;
};

// `pass` 2 draws other random numbers than 1.
std::unique_ptr<FrameMaker> makePainter(FilmWork& work, const KeyLeads& keys, int pass);
// Paints at once with the inputs' quick painter, each shot in its first frame's colours and moments, and
// holds frames to their leads pixel by pixel.
std::unique_ptr<FrameMaker> makeQuickPainter(FilmWork& work, const KeyLeads& keys, int pass);
// Matches the shots first.
std::unique_ptr<FrameMaker> makeGrader(FilmWork& work);

}  // namespace jugendstil
