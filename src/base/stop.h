// SPDX-License-Identifier: Apache-2.0
// How a run is stopped.
#pragma once

namespace jugendstil {

// A callback that is told of progress throws this when no more is wanted; there is no other way to stop what
// works long. What can keep the work done so far catches it and says so in its result; all others let it
// through. It is no Error: nothing failed.
struct Stopped {};

}  // namespace jugendstil
