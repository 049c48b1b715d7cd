// Does a proof look like its final? Structural similarity after reduction, and the ranking of settings, on
// the demo pairs: jugendstil_proofs [LONG_EDGE_OF_THE_FINALS]
#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <memory>
#include <numeric>

#include "image/picture_file.h"
#include "image/similarity.h"
#include "measure.h"
#include "paint/appraisal.h"
#include "paint/painter.h"

namespace {

using namespace jugendstil;
using namespace bench;

constexpr int kFinalEdge = 768;

Image picture(const std::string& name) {
  return rgbOf(readPicture(std::filesystem::path(JUGENDSTIL_SHARE_SOURCE) / "demo" / name).image);
}

Image painted(const Chain& chain, const PaintInputs& inputs, int longEdge, double likeness, bool proof) {
  PaintSettings settings;
  settings.longEdge = longEdge;
  settings.likeness = likeness;
  settings.proof = proof;
  return paint(chain, inputs, settings, {}).picture;
}

Image reduced(const Image& image, int longEdge) {
  const Size size = sizeForLongEdge(image.width, image.height, longEdge);
  return resizePhoto(image, size.width, size.height);
}

// How the painting lies between its photo and its reference, as numbers to rank by: drawing, and style.
std::pair<double, double> judged(Appraiser& appraiser, const Image& painting) {
  const Appraisal a = appraiser.of(painting);
  return {*a.content, std::accumulate(a.style.begin(), a.style.end(), 0.0)};
}

struct Ranking {
  int asked = 0;
  int right = 0;

  // Of two settings: which of them comes first?
  void ask(double a, double b, double proofA, double proofB) {
    ++asked;
    if ((a < b) == (proofA < proofB)) ++right;
  }
};

}  // namespace

int main(int count, char** words) {
  const int longEdge = count > 1 ? std::atoi(words[1]) : kFinalEdge;
  const Chain chain = readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx");
  double least = 1;
  Ranking drawing;
  Ranking style;
  for (const char* photo : {"palm_house", "potting_bench"}) {
    for (const char* reference : {"evening_impasto", "sun_lily_mosaic", "moon_linocut"}) {
      const PaintInputs inputs{picture(fmt::format("photos/{}.jpg", photo)),
                               {{picture(fmt::format("references/{}.jpg", reference)), 1}}};
      std::unique_ptr<Appraiser> appraiser;
      std::vector<std::pair<double, double>> finals;
      std::vector<std::pair<double, double>> proofs;
      std::string line;
      for (const double likeness : {20.0, 50.0, 80.0}) {
        const Image final = painted(chain, inputs, longEdge, likeness, false);
        const Image proof = painted(chain, inputs, longEdge, likeness, true);
        // Both as they are seen beside each other: at the proof's size.
        if (!appraiser)
          appraiser = std::make_unique<Appraiser>(chain, inputs.photo, inputs.references,
                                                  Size{proof.width, proof.height});
        const double alike = structuralSimilarity(reduced(final, longEdge / 4), reduced(proof, longEdge / 4));
        least = std::min(least, alike);
        finals.push_back(judged(*appraiser, final));
        proofs.push_back(judged(*appraiser, proof));
        line +=
            fmt::format("  {:.0f}: {:.3f} (drawing {:.3f} {:.3f}, style {:.3f} {:.3f})", likeness, alike,
                        finals.back().first, proofs.back().first, finals.back().second, proofs.back().second);
      }
      for (std::size_t i = 0; i < finals.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
          drawing.ask(finals[i].first, finals[k].first, proofs[i].first, proofs[k].first);
          style.ask(finals[i].second, finals[k].second, proofs[i].second, proofs[k].second);
        }
      }
      fmt::print("{} after {}, final and proof at likeness{}\n", photo, reference, line);
      std::fflush(stdout);
    }
  }
  report("proof against final, least structural similarity", least, "", 0.8, false);
  report("pairs of settings that proofs rank by drawing as finals do", 100.0 * drawing.right / drawing.asked,
         "%", 100, false);
  report("the same by style", 100.0 * style.right / style.asked, "%", 100, false);
}
