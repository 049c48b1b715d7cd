// Does a proof look like its final? Structural similarity after reduction, and the ranking of settings, on
// the demo pairs: jugendstil_proofs
#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
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
constexpr int kReducedEdge = 192;

Image picture(const std::string& name) {
  return rgbOf(readPicture(std::filesystem::path(JUGENDSTIL_SHARE_SOURCE) / "demo" / name).image);
}

Image painted(const Chain& chain, const PaintInputs& inputs, double likeness, bool proof) {
  PaintSettings settings;
  settings.longEdge = kFinalEdge;
  settings.likeness = likeness;
  settings.proof = proof;
  return paint(chain, inputs, settings, {}).picture;
}

Image reduced(const Image& image) {
  const Size size = sizeForLongEdge(image.width, image.height, kReducedEdge);
  return resizePhoto(image, size.width, size.height);
}

// How the painting lies between its photo and its reference, as numbers to rank by.
std::pair<double, double> judged(Appraiser& appraiser, const Image& painting) {
  const Appraisal a = appraiser.of(painting);
  return {*a.content, std::accumulate(a.style.begin(), a.style.end(), 0.0)};
}

}  // namespace

int main() {
  const Chain chain = readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx");
  double least = 1;
  int ranked = 0;
  int asked = 0;
  for (const char* photo : {"palm_house", "potting_bench"}) {
    for (const char* reference : {"evening_impasto", "sun_lily_mosaic", "moon_linocut"}) {
      const PaintInputs inputs{picture(fmt::format("photos/{}.jpg", photo)),
                               {{picture(fmt::format("references/{}.jpg", reference)), 1}}};
      Appraiser appraiser(chain, inputs.photo, inputs.references, {inputs.photo.width, inputs.photo.height});
      std::vector<std::pair<double, double>> finals;
      std::vector<std::pair<double, double>> proofs;
      std::string line;
      for (const double likeness : {20.0, 50.0, 80.0}) {
        const Image final = painted(chain, inputs, likeness, false);
        const Image proof = painted(chain, inputs, likeness, true);
        const double alike = structuralSimilarity(reduced(final), reduced(proof));
        least = std::min(least, alike);
        line += fmt::format(" {:.3f}", alike);
        finals.push_back(judged(appraiser, final));
        proofs.push_back(judged(appraiser, proof));
      }
      for (std::size_t i = 0; i < finals.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
          asked += 2;
          ranked += (finals[i].first < finals[k].first) == (proofs[i].first < proofs[k].first) ? 1 : 0;
          ranked += (finals[i].second < finals[k].second) == (proofs[i].second < proofs[k].second) ? 1 : 0;
        }
      }
      fmt::print("{} after {}: similarity at likeness 20, 50, 80:{}\n", photo, reference, line);
    }
  }
  report("proof against final, least structural similarity", least, "", 0.8, false);
  report("pairs of settings that proofs rank as finals do", 100.0 * ranked / asked, "%", 100, false);
}
