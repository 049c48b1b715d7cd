// SPDX-License-Identifier: Apache-2.0
// The bars of grading, one line each: jugendstil_grade_bars
#include <cmath>
#include <cstring>
#include <filesystem>

#include "base/parallel.h"
#include "grade/closeness.h"
#include "grade/grade_file.h"
#include "image/resample.h"
#include "measure.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

const fs::path kDemo = fs::path(JUGENDSTIL_SHARE_SOURCE) / "demo";

fs::path photoFile(const std::string& name) { return kDemo / "photos" / (name + ".jpg"); }
fs::path referenceFile(const std::string& name) { return kDemo / "photo_references" / (name + ".jpg"); }

// A demo photo enlarged, written as 16-bit TIFF (or JPEG, 8 bits) strip by strip.
void writeLarge(const fs::path& path, int width, int height) {
  const StoredPicture photo = StoredPicture::read(photoFile("gate"));
  const Image small = photo.rows(0, photo.height());
  StripWriter writer(path, StoredPicture::like(width, height, Depth::sixteen), ProfileChoice::keep);
  for (int y = 0; y < height; y += kStripRows) {
    Image strip(width, std::min(kStripRows, height - y));
    parallelFor(strip.height, [&](int v) {
      const int from = static_cast<int>(static_cast<double>(y + v) * small.height / height);
      for (int x = 0; x < width; ++x) {
        const int u = static_cast<int>(static_cast<double>(x) * small.width / width);
        for (int c = 0; c < 3; ++c) strip.at(x, v, c) = small.at(u, from, c);
      }
    });
    writer.write(std::move(strip));
  }
  writer.finish();
}

GradeInputs inputsFor(const std::string& reference, GradeMethod method) {
  GradeInputs inputs;
  inputs.rest.references = {{fileStatistics(referenceFile(reference)), 1}};
  inputs.settings.match.method = method;
  return inputs;
}

// Statistics, map and local contrast of 24 megapixels of 16 bits, against decoding and encoding the same
// JPEG.
void speedOfGrading(const fs::path& folder) {
  const fs::path tiff = folder / "large.tif";
  const fs::path jpeg = folder / "large.jpg";
  const fs::path again = folder / "again.jpg";
  writeLarge(tiff, 6000, 4000);
  writeLarge(jpeg, 6000, 4000);
  const StoredPicture deep = StoredPicture::read(tiff);
  const GradeInputs inputs = inputsFor("silver_rain", GradeMethod::covariance);
  double codec = 1e9;
  double grading = 1e9;
  for (int round = 0; round < 3; ++round) {
    codec = std::min(codec, bestOf(1, [&] {
                       const StoredPicture read = StoredPicture::read(jpeg);
                       StripWriter writer(again, read, ProfileChoice::keep);
                       for (int y = 0; y < read.height(); y += kStripRows) {
                         writer.write(read.rows(y, std::min(kStripRows, read.height() - y)));
                       }
                     }));
    grading = std::min(grading, bestOf(1, [&] {
                         const Image reduced = reducedPicture(deep);
                         const Look look = matchLook(gradeStatistics(reduced), inputs.rest.references,
                                                     inputs.settings.match);
                         const Grader grader(look, reduced);
                         for (int y = 0; y < deep.height(); y += kStripRows) {
                           Image strip = deep.rows(y, std::min(kStripRows, deep.height() - y));
                           grader.apply(strip, y, deep.height());
                         }
                       }));
  }
  fmt::print("24 megapixels: JPEG decoded and encoded in {:.2f} s, 16-bit photo graded in {:.2f} s\n", codec,
             grading);
  report("grading 24 MP against decoding and encoding its JPEG", grading / codec, "times", 1, true);
}

// A look without local contrast on rows in memory, against copying them.
void speedOfLooks() {
  const StoredPicture photo = StoredPicture::read(photoFile("gate"));
  const Image rows = photo.rows(0, photo.height());
  GradeInputs inputs = inputsFor("silver_rain", GradeMethod::covariance);
  inputs.settings.match.detail = false;
  const Image reduced = reducedPicture(photo);
  const Look look = matchLook(gradeStatistics(reduced), inputs.rest.references, inputs.settings.match);
  const Grader grader(look, reduced);
  Image work = rows;
  Image copy = rows;
  const double megapixels = static_cast<double>(rows.area()) / 1e6;
  double apply = 1e9;
  double copying = 1e9;
  for (int round = 0; round < 20; ++round) {
    copying = std::min(copying, bestOf(3, [&] {
                         parallelFor(rows.height, [&](int y) {
                           std::memcpy(&copy.pixels[copy.index(0, y, 0)], &rows.pixels[rows.index(0, y, 0)],
                                       static_cast<std::size_t>(rows.width) * 3 * sizeof(float));
                         });
                       }));
    work = rows;
    apply = std::min(apply, bestOf(1, [&] { grader.apply(work, 0, work.height); }));
  }
  fmt::print("a plain copy runs at {:.0f} megapixels a second, the look at {:.1f} times that time\n",
             megapixels / copying, apply / copying);
  report("applying a look, two threads", megapixels / apply, "MP/s", 150, false);
}

double rampRatio(const Look& look) {
  // Skies from the horizon to the zenith, 2000 pixels each.
  constexpr float kSkies[][2][3] = {{{0.93F, 0.90F, 0.84F}, {0.30F, 0.48F, 0.72F}},
                                    {{0.80F, 0.86F, 0.92F}, {0.15F, 0.35F, 0.70F}},
                                    {{0.85F, 0.85F, 0.85F}, {0.35F, 0.36F, 0.38F}},
                                    {{0.98F, 0.72F, 0.45F}, {0.25F, 0.28F, 0.45F}}};
  constexpr int kWidth = 2000;
  const TableApplier table(lookTable(look));
  double worst = 0;
  for (const auto& sky : kSkies) {
    std::vector<float> row;
    for (int x = 0; x < kWidth; ++x) {
      const float t = static_cast<float>(x) / (kWidth - 1);
      for (std::size_t c = 0; c < 3; ++c) row.push_back(sky[0][c] * (1 - t) + sky[1][c] * t);
    }
    std::vector<float> graded = row;
    table.apply(graded.data(), kWidth, 3);
    double step = 0;
    double source = 0;
    for (std::size_t i = 3; i < row.size(); ++i) {
      step = std::max(step, static_cast<double>(std::fabs(graded[i] - graded[i - 3])));
      source = std::max(source, static_cast<double>(std::fabs(row[i] - row[i - 3])));
    }
    worst = std::max(worst, step / source);
  }
  return worst;
}

struct Pair {
  const char* photo;
  const char* reference;
};
// Those of the demo's page.
constexpr Pair kPairs[] = {{"palm_house", "noon"},
                           {"potting_bench", "amber_dusk"},
                           {"gate", "silver_rain"},
                           {"corridor", "amber_dusk"},
                           {"lily_pond", "amber_dusk"}};

struct Fit {
  double fall = 0;  // of the sliced distance, in percent
  double ramp = 0;
};

Fit fitOf(const char* photo, const char* reference, GradeMethod method) {
  const GradeInputs inputs = inputsFor(reference, method);
  const GradeOutcome outcome = gradeFile(photoFile(photo), {}, inputs);
  const auto& target = inputs.rest.references[0].statistics.colours;
  const double before = slicedDistance(outcome.statisticsBefore.colours, target);
  const double after = slicedDistance(outcome.statisticsAfter.colours, target);
  return {100 * (1 - after / before), rampRatio(outcome.look)};
}

void fits() {
  for (const GradeMethod method : {GradeMethod::covariance, GradeMethod::distribution}) {
    const bool whole = method == GradeMethod::distribution;
    const char* name = whole ? "distribution" : "covariance";
    for (const Pair& pair : kPairs) {
      const Fit fit = fitOf(pair.photo, pair.reference, method);
      report(fmt::format("{}: {} after {}, distance falls", name, pair.photo, pair.reference), fit.fall, "%",
             whole ? 90 : 75, false);
      report("  largest step in sky ramps, against the source's", fit.ramp, "times", 2, true);
    }
    // All other photos and references of the demo, for the record.
    for (const Pair& pair : kPairs) {
      for (const char* reference : {"amber_dusk", "silver_rain", "noon"}) {
        if (std::strcmp(pair.reference, reference) == 0) continue;
        const Fit fit = fitOf(pair.photo, reference, method);
        fmt::print("  {}: {} after {} falls by {:.1f} %, sky steps {:.2f} times\n", name, pair.photo,
                   reference, fit.fall, fit.ramp);
      }
    }
  }
}

}  // namespace

int main() {
  const fs::path folder = fs::temp_directory_path() / fmt::format("jugendstil-bench-{}", getpid());
  fs::create_directories(folder);
  // Children first, while this process has no threads for them to miss.
  peakMemory([&] { writeLarge(folder / "huge.tif", 12248, 8165); });
  const double memory = peakMemory([&] {
    setThreads(2);
    GradeInputs inputs = inputsFor("silver_rain", GradeMethod::covariance);
    gradeFile(folder / "huge.tif", folder / "graded.tif", inputs);
  });
  report("peak memory of grading 100 MP of 16 bits", memory, "MB", 1500, true);
  setThreads(2);
  speedOfLooks();
  speedOfGrading(folder);
  fits();
  fs::remove_all(folder);
  return 0;
}
