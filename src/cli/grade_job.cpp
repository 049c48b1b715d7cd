// SPDX-License-Identifier: Apache-2.0
#include "cli/grade_job.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <mutex>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/parallel.h"
#include "cli/batch.h"
#include "cli/say.h"
#include "grade/closeness.h"
#include "grade/look_file.h"
#include "report/grade_chart.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

std::string joined(const std::vector<std::string>& remarks) {
  std::string text;
  for (const std::string& r : remarks) text += (text.empty() ? "" : ", ") + r;
  return text;
}

// All references as one set of colours in their shares, for measuring against.
std::vector<Oklab> colourMixture(const std::vector<SharedStatistics>& references) {
  double most = 0;
  for (const SharedStatistics& r : references) most = std::max(most, r.share);
  std::vector<Oklab> out;
  for (const SharedStatistics& r : references) {
    const auto& colours = r.statistics.colours;
    const auto count = static_cast<std::size_t>(static_cast<double>(colours.size()) * r.share / most);
    for (std::size_t i = 0; i < std::max<std::size_t>(1, count); ++i) {
      out.push_back(colours[i * colours.size() / std::max<std::size_t>(1, count)]);
    }
  }
  return out;
}

Closeness closenessOf(const GradeOutcome& outcome, const std::vector<SharedStatistics>& references) {
  const std::vector<Oklab> target = colourMixture(references);
  Closeness c;
  c.slicedBefore = slicedDistance(outcome.statisticsBefore.colours, target);
  c.slicedAfter = slicedDistance(outcome.statisticsAfter.colours, target);
  c.ciedeBefore = quantileDistance(outcome.statisticsBefore.colours, target);
  c.ciedeAfter = quantileDistance(outcome.statisticsAfter.colours, target);
  return c;
}

void readReferences(GradeJob& job) {
  for (const ReferenceWord& r : job.references) {
    job.inputs.references.push_back({fileStatistics(r.path), r.share});
  }
}

// One look for the whole set, from the statistics of all that can be read.
void matchTogether(GradeJob& job) {
  if (!job.together || job.inputs.look) return;
  std::vector<GradeStatistics> parts(job.photos.size());
  runBatch(job.photos.size(), job.threads, ProgressStyle::none, "photo",
           [&](std::size_t i, const ItemProgress&) {
             parts[i] = fileStatistics(job.photos[i], job.inputs.layer.mask);
           });
  std::erase_if(parts, [](const GradeStatistics& s) { return s.colours.empty(); });
  if (parts.empty()) throw Error("none of the photos can be read; check their names and that they are whole");
  job.inputs.look = matchLook(pooledStatistics(parts), job.inputs.references, job.inputs.match);
}

void drawChart(const GradeJob& job, const GradeOutcome& outcome) {
  GradeChart chart;
  chart.photo = outcome.before;
  chart.photoName = job.photos[0].filename().string();
  chart.result = outcome.after;
  chart.resultName = job.outputs.empty() ? "result" : job.outputs[0].filename().string();
  if (!job.references.empty()) {
    const StoredPicture reference = StoredPicture::read(job.references[0].path);
    chart.reference = reoriented(reducedPicture(reference), reference.orientation());
    chart.referenceName = job.references[0].path.filename().string();
    chart.closeness = closenessOf(outcome, job.inputs.references);
  }
  chart.look = outcome.look;
  writePicture(job.chart, gradeChart(chart), Depth::eight);
}

void saveLook(const GradeJob& job, const Look& look) {
  Look named = look;
  if (named.name.empty()) named.name = job.saveLook.stem().stem().string();
  writeFileAtomically(job.saveLook, lookText(named));
}

std::string nearer(const Closeness& c) {
  const double part = c.slicedBefore > 0 ? 1 - c.slicedAfter / c.slicedBefore : 0;
  return fmt::format(
      "colours {:.0f} % {} the reference (CIEDE2000 {:.1f} -> {:.1f}, sliced distance {:.4f} -> {:.4f})",
      100 * std::fabs(part), part >= 0 ? "nearer to" : "further from", c.ciedeBefore, c.ciedeAfter,
      c.slicedBefore, c.slicedAfter);
}

void tellOne(const GradeJob& job, const GradeOutcome& outcome, double seconds) {
  if (job.progress == ProgressStyle::json) {
    nlohmann::json object{
        {"event", "done"},        {"file", job.outputs.empty() ? "" : job.outputs[0].string()},
        {"width", outcome.width}, {"height", outcome.height},
        {"seconds", seconds},     {"words", lookInWords(outcome.look)}};
    if (!job.inputs.references.empty()) {
      const Closeness c = closenessOf(outcome, job.inputs.references);
      object["ciede2000"] = {c.ciedeBefore, c.ciedeAfter};
      object["sliced_distance"] = {c.slicedBefore, c.slicedAfter};
    }
    sayJson(stdout, object);
    return;
  }
  if (!job.outputs.empty()) {
    say(stdout, "{}: {}x{}, graded in {:.1f} s\n", job.outputs[0].string(), outcome.width, outcome.height,
        seconds);
  }
  if (job.quiet) return;
  say(stdout, "  {}\n", joined(lookInWords(outcome.look)));
  if (!job.inputs.references.empty())
    say(stdout, "  {}\n", nearer(closenessOf(outcome, job.inputs.references)));
}

void tellSet(const GradeJob& job, const BatchOutcome& batch, std::size_t done) {
  const std::string folder = job.outputs[0].parent_path().string();
  if (job.progress == ProgressStyle::json) {
    nlohmann::json failed = nlohmann::json::array();
    for (const BatchFailure& f : batch.failures) {
      failed.push_back({{"file", job.photos[f.item].string()}, {"error", f.message}});
    }
    sayJson(stdout, {{"event", batch.stopped ? "stopped" : "done"},
                     {"graded", done},
                     {"photos", job.photos.size()},
                     {"failed", failed},
                     {"seconds", batch.seconds}});
    return;
  }
  say(stdout, "{}{}: {} of {} photos graded in {}\n", folder.empty() ? "." : folder,
      folder.ends_with('/') ? "" : "/", done, job.photos.size(), duration(batch.seconds));
  if (batch.stopped)
    say(stderr, "stopped; name the missing photos to go on, or add --force to grade all again\n");
}

std::size_t workersOf(const GradeJob& job) {
  return std::min<std::size_t>(job.threads > 0 ? job.threads : omp_get_num_procs(), job.photos.size());
}

void tellPlan(const GradeJob& job) {
  for (const ReferenceWord& r : job.references)
    say(stdout, "after {}{}\n", r.path.string(),
        job.references.size() > 1 ? fmt::format(" @{}", r.share) : "");
  for (std::size_t i = 0; i < job.photos.size() && i < job.outputs.size(); ++i) {
    say(stdout, "would write {} from {}\n", job.outputs[i].string(), job.photos[i].string());
  }
  if (!job.saveLook.empty()) say(stdout, "would write {}\n", job.saveLook.string());
  if (!job.chart.empty()) say(stdout, "would write {}\n", job.chart.string());
  // As stored, while it is worked on; strips and tables are small beside it.
  const StoredPicture first = StoredPicture::read(job.photos[0]);
  const double megapixels = 1.0 * first.width() * first.height() / 1e6;
  const double bytes = megapixels * first.channels() *
                       (first.depth() == Depth::eight     ? 1
                        : first.depth() == Depth::sixteen ? 2
                                                          : 4);
  say(stdout, "memory: about {:.0f} MB, if all photos are like the first\n",
      150 + bytes * static_cast<double>(workersOf(job)));
  say(stdout, "time: about {}, if all photos are like the first\n", duration(foretoldSeconds(job)));
}

void prepareFolders(const GradeJob& job) {
  for (const fs::path& output : job.outputs) makeFolderFor(output);
}

void requirePlaces(const GradeJob& job) {
  for (std::size_t i = 0; i < job.outputs.size(); ++i) {
    requireWritableName(job.outputs[i]);
    requireEncoding(job.outputs[i], job.inputs.encoding);
    requireOther(job.outputs[i], job.photos[i]);
    requireFree(job.outputs[i], job.force);
    requirePlace(job.outputs[i], true);
  }
  if (!job.saveLook.empty()) requireFree(job.saveLook, job.force);
  if (!job.chart.empty()) {
    requireWritableName(job.chart);
    requireFree(job.chart, job.force);
  }
}

int gradeOne(const GradeJob& job) {
  std::optional<GradeOutcome> outcome;
  const auto batch =
      runBatch(1, job.threads, job.progress, "photo", [&](std::size_t, const ItemProgress& show) {
        outcome = gradeFile(job.photos[0], job.outputs.empty() ? fs::path() : job.outputs[0], job.inputs,
                            [&](int done, int rows) { show(1.0 * done / rows); });
      });
  if (!batch.failures.empty()) throw Error(batch.failures[0].message);
  if (batch.stopped || !outcome) {
    say(stderr, "stopped; nothing was written\n");
    return 130;
  }
  if (!job.saveLook.empty()) saveLook(job, outcome->look);
  if (!job.chart.empty()) drawChart(job, *outcome);
  tellOne(job, *outcome, batch.seconds);
  return 0;
}

int gradeSet(const GradeJob& job) {
  if (!job.saveLook.empty()) saveLook(job, partOfLook(*job.inputs.look, job.inputs.amounts));
  std::mutex mutex;
  std::size_t done = 0;
  const auto batch = runBatch(job.photos.size(), job.threads, job.progress, "photo",
                              [&](std::size_t i, const ItemProgress& show) {
                                gradeFile(job.photos[i], job.outputs[i], job.inputs,
                                          [&](int rows, int all) { show(1.0 * rows / all); });
                                const std::lock_guard lock(mutex);
                                ++done;
                              });
  tellSet(job, batch, done);
  for (const BatchFailure& f : batch.failures) say(stderr, "jugendstil: {}\n", f.message);
  if (!batch.failures.empty()) {
    say(stderr, "jugendstil: {} of {} photos failed; the others are done\n", batch.failures.size(),
        job.photos.size());
  }
  if (batch.stopped) return 130;
  return batch.failures.empty() ? 0 : 1;
}

}  // namespace

double foretoldSeconds(const GradeJob& job) {
  const auto begin = std::chrono::steady_clock::now();
  gradeStatistics(reducedPicture(StoredPicture::read(job.photos[0])));
  // Reading and measuring is about half of the work; grading and writing the other.
  const double each = 2 * std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  return std::max(1.0, each * static_cast<double>(job.photos.size()));
}

int runGradeJob(GradeJob job) {
  requirePlaces(job);
  setThreads(job.threads);
  if (job.dryRun) {
    tellPlan(job);
    return 0;
  }
  readReferences(job);
  prepareFolders(job);
  matchTogether(job);
  return job.photos.size() == 1 ? gradeOne(job) : gradeSet(job);
}

}  // namespace jugendstil::cli
