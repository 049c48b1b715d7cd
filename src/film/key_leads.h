// SPDX-License-Identifier: Apache-2.0
// How keyframes lead the frames before them.
#pragma once

#include <map>
#include <optional>

#include "film/lead_maker.h"
#include "film/work.h"

namespace jugendstil {

class KeyLeads {
 public:
  // Brings the keys to the size that frames are painted in and carries each back along the motion, as far as
  // its shot, the key before and a second and a half allow. Throws UsageError: a key that is not among the
  // chosen frames or has another format.
  explicit KeyLeads(FilmWork& work);

  // The key's own picture, where a frame is one, at the size that frames are painted in.
  const Image* keyAt(std::int64_t place) const;
  // The same at the film's size; empty where the frame is none.
  Image wholeKeyAt(std::int64_t place) const;

  // The lead of a frame, if any, with what the next key says of it, which counts the more the nearer the key
  // is in the shot that began there.
  std::optional<Lead> joined(const std::optional<Lead>& lead, std::int64_t place, std::int64_t shot) const;

 private:
  void carryBack(std::int64_t key, std::int64_t floor);

  FilmWork& work_;
  std::map<std::int64_t, Image> keys_;
};

}  // namespace jugendstil
