// SPDX-License-Identifier: Apache-2.0
// The tables of a shelf.
#pragma once

#include "shelf/database.h"

namespace jugendstil {

// The newest schema; a file says in its user_version which one it has.
inline constexpr int kSchemaVersion = 1;

// Brings the tables to the newest schema, step by step, each whole or not at all. Throws Error where the file
// comes from a newer program, or is a database of something else.
void migrate(const Database& database);

}  // namespace jugendstil
