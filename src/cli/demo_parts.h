// SPDX-License-Identifier: Apache-2.0
// The parts of the demo, each with its section of the page.
#pragma once

#include <filesystem>
#include <functional>

#include "cli/demo_scale.h"
#include "cli/film_job.h"
#include "cli/grade_job.h"
#include "cli/paint_job.h"
#include "report/gallery_page.h"

namespace jugendstil::cli {

struct Demo : RunOptions {
  std::filesystem::path folder;
  std::filesystem::path inputs;  // where photos, references and clip lie
  DemoScale scale;
  std::string steps;   // as asked for; may be empty
  bool begun = false;  // the first painting is there
};

// The settings of its paintings but for their size. Throws UsageError.
PaintSettings paintingOf(const Demo& demo);
// As an option of the commands that are told; empty where steps are as usual.
std::string stepsOption(const Demo& demo);

// Copies all that is used into the folder, so that the commands told work there, and takes it from there.
// Files that are the same already stay. Throws Error.
void layOutDemo(Demo& demo);

// What is made, to be foretold and done: the first painting, all gradings, the clip painted and graded.
PaintJob firstPainting(const Demo& demo);
std::vector<GradeJob> gradings(const Demo& demo);
FilmJob paintedFilm(const Demo& demo);
FilmJob gradedFilm(const Demo& demo);

// What weaving all of its pieces takes.
double weavingSeconds();
// What amplifying takes.
double amplifyingSeconds();

// In its folder.
inline constexpr const char* kDemoClip = "clip/pond.mp4";
inline constexpr const char* kDemoOil = "references/evening_impasto.jpg";
inline constexpr const char* kDemoPainter = "pond.painter.onnx";

// What learning on the clip, and painting the clip with what it came to, takes.
double learningSeconds(const Demo& demo);

// What its dives take.
double divingSeconds(const Demo& demo);

// A part's section of the page, or what an interrupted one came to.
struct DemoPart {
  int outcome = 0;
  GallerySection section;
};

// Each writes into the folder, lays a sheet and says where it is. Once the first photo is painted after all
// references it is asked before each further painting whether there is time for that. Throws Error.
DemoPart paintDemo(const Demo& demo, const std::function<bool()>& timeForMore);
// The first photo after each reference at once, to hold against those of paintDemo().
DemoPart quickDemo(const Demo& demo);
DemoPart gradeDemo(const Demo& demo);
DemoPart weaveDemo(const Demo& demo);
DemoPart amplifyDemo(const Demo& demo);
DemoPart shelfDemo(const Demo& demo);
DemoPart filmDemo(const Demo& demo);
DemoPart learnDemo(const Demo& demo);
DemoPart diveDemo(const Demo& demo);

}  // namespace jugendstil::cli
