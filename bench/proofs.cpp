// SPDX-License-Identifier: Apache-2.0
// Does a proof look like its final? Structural similarity and the ranking of settings, after reduction, on
// the demo pairs: jugendstil_proofs [LONG_EDGE_OF_THE_FINALS]
//
// Settings are ranked by numbers of the finished pictures, all at the proofs' size, and by the style loss
// that recipes tell, of what was optimised. The references' own brush-work brings all finished pictures near
// to them, so a final is painted with another seed as well: what differs by no more than that is told.
#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <memory>
#include <numeric>

#include "image/picture_file.h"
#include "image/similarity.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/appraisal.h"
#include "paint/painter.h"

namespace {

using namespace jugendstil;
using namespace bench;

constexpr int kFinalEdge = 768;
constexpr double kLikeness[] = {20, 50, 80};
constexpr double kReseeded = 50;

Image picture(const std::string& name) {
  return rgbOf(readPicture(std::filesystem::path(JUGENDSTIL_SHARE_SOURCE) / "demo" / name).image);
}

struct Painted {
  Image picture;
  double styleLoss = 0;
};

Painted painted(const Chain& chain, const PaintInputs& inputs, int longEdge, double likeness, bool proof,
                std::uint64_t seed = 1) {
  PaintSettings settings;
  settings.longEdge = longEdge;
  settings.likeness = likeness;
  settings.proof = proof;
  settings.seed = seed;
  const PaintResult result = paint(chain, inputs, settings, {});
  return {result.picture, result.loss.style};
}

Image reduced(const Image& image, int longEdge) {
  const Size size = sizeForLongEdge(image.width, image.height, longEdge);
  return resizePhoto(image, size.width, size.height);
}

// How a painting lies between its photo and its reference, as numbers to rank by.
struct Judgement {
  double drawing = 0;
  double style = 0;
  double styleLoss = 0;
};

Judgement judged(Appraiser& appraiser, const Painted& painting) {
  const Appraisal a = appraiser.of(painting.picture);
  return {*a.content, std::accumulate(a.style.begin(), a.style.end(), 0.0), painting.styleLoss};
}

// Of each two settings: do the proofs tell which of them comes first?
struct Ranking {
  std::string by;
  double Judgement::*number;
  int asked = 0;
  int right = 0;
  int alike = 0;
  int alikeRight = 0;

  void ask(const std::vector<Judgement>& finals, const std::vector<Judgement>& proofs,
           const Judgement& sameSeed, const Judgement& otherSeed) {
    const double chance = std::abs(otherSeed.*number - sameSeed.*number);
    for (std::size_t i = 0; i < finals.size(); ++i) {
      for (std::size_t k = 0; k < i; ++k) {
        const double apart = finals[i].*number - finals[k].*number;
        const bool same = (apart < 0) == (proofs[i].*number < proofs[k].*number);
        ++asked;
        right += same;
        alike += std::abs(apart) <= chance;
        alikeRight += same && std::abs(apart) <= chance;
      }
    }
  }

  void tell() const {
    report(fmt::format("settings ranked by {} as finals are", by), 100.0 * right / asked, "%", 100, false);
    fmt::print("  {} of {}; {} of the {} that differ by no more than another seed does\n", right, asked,
               alikeRight, alike);
  }
};

std::string numbersOf(const Judgement& j) {
  return fmt::format("{:.3f} {:.3f} {:.4f}", j.drawing, j.style, j.styleLoss);
}

}  // namespace

int main(int count, char** words) {
  const int longEdge = count > 1 ? std::atoi(words[1]) : kFinalEdge;
  const Chain chain = readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx");
  double least = 1;
  std::vector<Ranking> rankings{{"drawing", &Judgement::drawing},
                                {"style loss", &Judgement::styleLoss},
                                {"the pictures' style", &Judgement::style}};
  for (const char* photo : {"palm_house", "potting_bench"}) {
    for (const char* reference : {"evening_impasto", "sun_lily_mosaic", "moon_linocut"}) {
      const PaintInputs inputs{picture(fmt::format("photos/{}.jpg", photo)),
                               {{picture(fmt::format("references/{}.jpg", reference)), 1}}};
      std::unique_ptr<Appraiser> appraiser;
      std::vector<Judgement> finals;
      std::vector<Judgement> proofs;
      Judgement sameSeed;
      Judgement otherSeed;
      fmt::print("{} after {}: alike; drawing, style and style loss of final and proof\n", photo, reference);
      for (const double likeness : kLikeness) {
        const Painted final = painted(chain, inputs, longEdge, likeness, false);
        const Painted proof = painted(chain, inputs, longEdge, likeness, true);
        if (!appraiser)
          appraiser = std::make_unique<Appraiser>(chain, inputs.photo, inputs.references,
                                                  Size{proof.picture.width, proof.picture.height});
        const double alike =
            structuralSimilarity(reduced(final.picture, longEdge / 4), reduced(proof.picture, longEdge / 4));
        least = std::min(least, alike);
        finals.push_back(judged(*appraiser, final));
        proofs.push_back(judged(*appraiser, proof));
        fmt::print("  likeness {:.0f}: {:.3f}; {}; {}\n", likeness, alike, numbersOf(finals.back()),
                   numbersOf(proofs.back()));
        if (likeness == kReseeded) {
          sameSeed = finals.back();
          otherSeed = judged(*appraiser, painted(chain, inputs, longEdge, likeness, false, 2));
          fmt::print("  another seed: {}\n", numbersOf(otherSeed));
        }
        std::fflush(stdout);
      }
      for (Ranking& ranking : rankings) ranking.ask(finals, proofs, sameSeed, otherSeed);
    }
  }
  report("proof against final, least structural similarity", least, "", 0.8, false);
  for (const Ranking& ranking : rankings) ranking.tell();
}
