// SPDX-License-Identifier: Apache-2.0
#include "cli/network_views.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "amplify/seen.h"
#include "base/error.h"
#include "cli/interrupt.h"
#include "cli/progress.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "network/bands_at.h"
#include "network/chain_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

constexpr int kPhotoEdge = 640;
constexpr std::size_t kChannelsOfPhoto = 4;
constexpr std::size_t kTextures = 16;
constexpr int kTextureEdge = 160;
constexpr int kReferenceEdge = 512;
constexpr int kGrownEdge = 224;

Image pictureFrom(const fs::path& file, int edge) {
  const Image whole = rgbOf(readPicture(file).image);
  const Size size =
      sizeForLongEdge(whole.width, whole.height, std::min(edge, std::max(whole.width, whole.height)));
  return resizePhoto(whole, size.width, size.height);
}

// Those that anything is measured at, in the order of the chain.
std::vector<std::size_t> measuredBands(const Chain& chain) {
  std::vector<std::size_t> bands;
  for (const auto* names : {&chain.styleBands, &chain.contentBands}) {
    for (const std::string& name : *names) bands.push_back(chain.bandIndex(name));
  }
  std::sort(bands.begin(), bands.end(), [&](std::size_t a, std::size_t b) {
    return chain.bands[a].layer < chain.bands[b].layer ||
           (chain.bands[a].layer == chain.bands[b].layer && a < b);
  });
  bands.erase(std::unique(bands.begin(), bands.end()), bands.end());
  return bands;
}

// Bars for several pieces of work of equal length.
class Pieces {
 public:
  Pieces(std::size_t all, bool quiet) : all_(all), display_(progressStyle("auto", quiet)) {}

  SeenProgress next() {
    const std::size_t piece = begun_++;
    return [this, piece](double part) {
      watch_.stopIfWanted();
      const double done = (static_cast<double>(piece) + part) / static_cast<double>(all_);
      const double gone = display_.seconds();
      const std::string left =
          done > 0.03 ? fmt::format(", about {} to go", duration(gone / done * (1 - done))) : "";
      display_.show(done, fmt::format("{} of {}{}", piece + 1, all_, left), progressEvent(done, gone, {}),
                    false);
    };
  }
  void finish() { display_.finish(); }

 private:
  std::size_t all_;
  std::size_t begun_ = 0;
  InterruptWatch watch_;
  ProgressDisplay display_;
};

Image ofPhoto(const Chain& chain, const fs::path& file) {
  const Image photo = pictureFrom(file, kPhotoEdge);
  std::vector<SheetCell> cells;
  for (const std::size_t band : measuredBands(chain)) {
    const Woken woken(chain, band, photo);
    for (const int channel : strongest(woken.shares(), kChannelsOfPhoto))
      cells.push_back({heatOver(photo, woken.heat(channel)),
                       fmt::format("{}, channel {}: {:.0f} %", chain.bands[band].name, channel,
                                   100 * woken.shares()[static_cast<std::size_t>(channel)]),
                       {}});
  }
  return contactSheet(
      cells, {fmt::format("What {} wakes: the channels that tell its places apart most, in each band",
                          file.filename().string()),
              static_cast<int>(kChannelsOfPhoto), 300, 220});
}

// The channels that the demo's photos wake most, taken together.
std::vector<int> strongestOf(const Chain& chain, std::size_t band) {
  std::vector<double> shares(static_cast<std::size_t>(chain.bands[band].channels), 0.0);
  for (const auto& entry : fs::directory_iterator(shareFolder() / "demo" / "photos")) {
    if (!isPictureName(entry.path())) continue;
    const Woken woken(chain, band, pictureFrom(entry.path(), kPhotoEdge / 2));
    for (std::size_t c = 0; c < shares.size(); ++c) shares[c] += woken.shares()[c];
  }
  return strongest(shares, kTextures);
}

Image ofBand(const Chain& own, const std::string& layer, bool quiet) {
  const Chain chain = withBandsAt(own, {layer});
  const std::string band = bandAt(chain, layer);
  const std::vector<int> channels = strongestOf(chain, chain.bandIndex(band));
  Pieces pieces(channels.size(), quiet);
  std::vector<SheetCell> cells;
  for (const int channel : channels)
    cells.push_back({textureOf(chain, band, channel, kTextureEdge, 1, pieces.next()),
                     fmt::format("channel {}", channel),
                     {}});
  pieces.finish();
  return contactSheet(cells, {fmt::format("What wakes {}: its {} strongest channels, each out of noise", band,
                                          channels.size()),
                              8, kTextureEdge, kTextureEdge});
}

Image ofReference(const Chain& chain, const fs::path& file, bool quiet) {
  const Image reference = pictureFrom(file, kReferenceEdge);
  std::vector<SheetCell> cells{{reference, file.filename().string(), {}}};
  Pieces pieces(chain.styleBands.size(), quiet);
  for (const std::string& band : chain.styleBands)
    cells.push_back({grownBy(chain, band, reference, kGrownEdge, pieces.next()), band, {}});
  pieces.finish();
  return contactSheet(
      cells,
      {fmt::format("What each band knows of {}, grown from noise", file.filename().string()), 3, 300, 270});
}

}  // namespace

po::options_description viewOptions() {
  auto options = optionGroup("See what bands see, on a sheet");
  options.add_options()("photo", textValue("PHOTO"), "which channels of each band a photo wakes, and where")(
      "show", textValue("BAND"),
      "what a band responds to: its strongest channels, each amplified out of noise; a layer's "
      "number will do")("growth", textValue("REF"),
                        "a reference's texture grown from noise by each band alone");
  return options;
}

bool asksForView(const po::variables_map& given) {
  return given.count("photo") + given.count("show") + given.count("growth") != 0;
}

int drawNetwork(const po::variables_map& given, const fs::path& file) {
  if (given.count("photo") + given.count("show") + given.count("growth") > 1)
    throw UsageError("--photo, --show and --growth exclude each other; each draws a sheet of its own");
  if (given.count("output") == 0) throw UsageError("a sheet needs a place: add -o sheet.png");
  const fs::path output = textOf(given, "output");
  requireWritableName(output);
  requireFree(output, given.count("force") != 0);
  requirePlace(output);
  const bool quiet = given.count("quiet") != 0;
  const Chain chain = readOnnx(file);
  const Image sheet = given.count("photo") != 0  ? ofPhoto(chain, textOf(given, "photo"))
                      : given.count("show") != 0 ? ofBand(chain, textOf(given, "show"), quiet)
                                                 : ofReference(chain, textOf(given, "growth"), quiet);
  writePicture(output, sheet, Depth::eight);
  if (!quiet) say(stdout, "{}: {}x{}\n", output.string(), sheet.width, sheet.height);
  return 0;
}

}  // namespace jugendstil::cli
