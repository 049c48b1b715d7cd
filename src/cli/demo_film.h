// SPDX-License-Identifier: Apache-2.0
// The demo's clip, painted and graded.
#pragma once

#include <filesystem>

#include "cli/film_job.h"

namespace jugendstil::cli {

// Paints and grades the clip into the folder and lays frames of both under those of the clip on one sheet.
// `job` brings force, quiet and progress; the long edge is that of the painted frames. Returns as
// runFilmJob() does.
int demoFilm(const std::filesystem::path& folder, const FilmJob& job);

}  // namespace jugendstil::cli
