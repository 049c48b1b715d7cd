// SPDX-License-Identifier: Apache-2.0
// jugendstil_train PICTURES WORK OUT.onnx STEPS: trains the general painter on the pictures under a folder,
// as fetch.sh leaves them, and on the demo's, up to so many steps of its plan. WORK keeps what has been made,
// and where training stands: the same command, or one with more steps, goes on there.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "base/error.h"
#include "base/state_file.h"
#include "general_learner.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "network/chain_file.h"
#include "studies.h"

namespace {

using namespace jugendstil;
using namespace training;

namespace fs = std::filesystem;

constexpr int kKeepEvery = 250;
constexpr int kTellEvery = 50;
constexpr std::size_t kStudies = 900;
constexpr std::size_t kSurfaces = 500;
// The demo's references in so many crops each.
constexpr int kCrops = 16;
const fs::path kDemo = fs::path(JUGENDSTIL_SHARE_SOURCE) / "demo";

Image sized(const Image& image, int edge) {
  const Size size = sizeForLongEdge(image.width, image.height, edge);
  return resizePhoto(image, size.width, size.height);
}

std::vector<Image> picturesIn(const fs::path& folder) {
  std::vector<fs::path> files;
  for (const auto& entry : fs::directory_iterator(folder)) files.push_back(entry.path());
  std::sort(files.begin(), files.end());
  std::vector<Image> pictures;
  for (const fs::path& file : files) pictures.push_back(rgbOf(readPicture(file).image));
  return pictures;
}

// Wide enough for a piece, as many crops of large ones as there are shapes.
std::vector<Stored> usablePhotos(const Pictures& pictures, const TrainingPlan& plan) {
  std::vector<Stored> photos;
  const auto take = [&](const Image& image) {
    const Size size = sizeForLongEdge(image.width, image.height, plan.edge);
    if (std::min(size.width, size.height) >= plan.piece) {
      photos.emplace_back(resizePhoto(image, size.width, size.height));
    } else {
      // Too long: its middle.
      const int side = std::min(image.width, image.height);
      const int other = std::min(std::max(image.width, image.height), side * plan.edge / plan.piece);
      const bool wide = image.width > image.height;
      const int w = wide ? other : side;
      const int h = wide ? side : other;
      photos.emplace_back(sized(crop(image, (image.width - w) / 2, (image.height - h) / 2, w, h), plan.edge));
    }
    if (std::min(photos.back().width(), photos.back().height()) < plan.piece) photos.pop_back();
  };
  for (const Stored& photo : pictures.photos) take(photo.image());
  for (int i = 0; i < 12; ++i) {
    for (const Image& photo : picturesIn(kDemo / "photos")) take(photo);
  }
  // Some surfaces too, or it has seen no walls.
  for (std::size_t i = 0; i < pictures.references.size(); i += 8) take(pictures.references[i].image());
  return photos;
}

std::vector<Stored> allReferences(const Pictures& pictures, const std::vector<Stored>& photos,
                                  const TrainingPlan& plan) {
  std::vector<Stored> references;
  const std::size_t step = std::max<std::size_t>(1, pictures.references.size() / kSurfaces);
  for (std::size_t i = 0; i < pictures.references.size(); i += step)
    references.push_back(pictures.references[i]);
  std::vector<Stored> studies(kStudies);
#pragma omp parallel for schedule(dynamic)
  for (std::size_t i = 0; i < kStudies; ++i) {
    const Image photo = sized(photos[i * photos.size() / kStudies].image(), plan.edge * 5 / 4);
    studies[i] = Stored(study(photo, static_cast<std::uint32_t>(i + 1)));
  }
  references.insert(references.end(), studies.begin(), studies.end());
  for (const Image& whole : picturesIn(kDemo / "references")) {
    for (int i = 0; i < kCrops; ++i) {
      const int side = 5 + i % 4;  // eighths
      const int w = whole.width * side / 8;
      const int h = whole.height * side / 8;
      const int x = (whole.width - w) * (i * 5 % kCrops) / kCrops;
      const int y = (whole.height - h) * (i * 11 % kCrops) / kCrops;
      references.emplace_back(sized(crop(whole, x, y, w, h), 2 * plan.edge));
    }
  }
  return references;
}

struct Material {
  std::vector<Stored> photos;
  std::vector<Stored> references;
};

// Made once: decoding and painting thousands of pictures takes minutes.
Material materialFor(const fs::path& folder, const fs::path& work, const TrainingPlan& plan) {
  const fs::path file = work / "pictures.state";
  const std::string making = fmt::format("pictures, edge {}, piece {}", plan.edge, plan.piece);
  Material material;
  if (fs::exists(file)) {
    StateReader reader(file, making);
    exchangeAll(reader, material.photos);
    exchangeAll(reader, material.references);
    return material;
  }
  fmt::print("reading pictures\n");
  std::fflush(stdout);
  const Pictures pictures = picturesUnder(folder, plan.edge * 5 / 4);
  material.photos = usablePhotos(pictures, plan);
  material.references = allReferences(pictures, material.photos, plan);
  StateWriter writer(file, making);
  exchangeAll(writer, material.photos);
  exchangeAll(writer, material.references);
  writer.commit();
  return material;
}

void keep(GeneralLearner& learner, const fs::path& file, const std::string& making) {
  StateWriter writer(file, making);
  learner.exchange(writer);
  writer.commit();
}

void train(const fs::path& folder, const fs::path& work, const fs::path& out, int steps) {
  const TrainingPlan plan;
  fs::create_directories(work);
  const Material material = materialFor(folder, work, plan);
  fmt::print("{} photos, {} references\n", material.photos.size(), material.references.size());
  std::fflush(stdout);
  const fs::path network = fs::path(JUGENDSTIL_SHARE_SOURCE) / "networks" / "filigree.onnx";
  const Chain chain = readOnnx(network);
  std::vector<Reference> references;
  for (const Stored& surface : material.references) references.push_back(measured(chain, surface, plan));
  fmt::print("measured\n");
  GeneralLearner learner(chain, material.photos, references, plan);
  const fs::path state = work / "training.state";
  const std::string making = fmt::format("general painter, {} photos, {} references, {} steps",
                                         material.photos.size(), references.size(), plan.steps);
  if (fs::exists(state)) {
    StateReader reader(state, making);
    learner.exchange(reader);
    fmt::print("goes on at step {}\n", learner.stepsDone());
  }
  const auto begin = std::chrono::steady_clock::now();
  const int from = learner.stepsDone();
  LossTerms sum;
  while (learner.stepsDone() < steps) {
    const LossTerms loss = learner.step();
    sum.style += loss.style / kTellEvery;
    sum.content += loss.content / kTellEvery;
    sum.colour += loss.colour / kTellEvery;
    const int done = learner.stepsDone();
    if (done % kTellEvery == 0) {
      const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
      fmt::print("step {} of {}: style {:.4f} content {:.4f} colour {:.4f}, {:.2f} s a step\n", done, steps,
                 sum.style, sum.content, sum.colour, seconds / (done - from));
      std::fflush(stdout);
      sum = {};
    }
    if (done % kKeepEvery == 0 || done == steps) {
      keep(learner, state, making);
      writeGeneralPainter(out, learner.painter());
    }
  }
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 5) {
    fmt::print(stderr, "jugendstil_train PICTURES WORK OUT.onnx STEPS\n");
    return 2;
  }
  try {
    train(argv[1], argv[2], argv[3], std::atoi(argv[4]));
  } catch (const std::exception& e) {
    fmt::print(stderr, "{}\n", e.what());
    return 1;
  }
  return 0;
}
