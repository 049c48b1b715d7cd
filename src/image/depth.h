// SPDX-License-Identifier: Apache-2.0
// How finely a picture file tells values apart.
#pragma once

namespace jugendstil {

enum class Depth { eight, sixteen, floating };  // bits; or floating point, 16 or 32 of them

}  // namespace jugendstil
