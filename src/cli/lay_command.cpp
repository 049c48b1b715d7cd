// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/error.h"
#include "base/file_name.h"
#include "cli/film_places.h"
#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/progress.h"
#include "cli/say.h"
#include "clip/clip_writer.h"
#include "film/lay_clip.h"
#include "grade/settings.h"
#include "image/layered_reader.h"
#include "image/picture_file.h"
#include "lay/lay.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

constexpr int kUsualQuality = 85;  // of films

const char* const kUsage =
    "usage: jugendstil lay PHOTO PAINTING [options] [PAINTING [options]]... -o OUT\n"
    "       jugendstil lay CLIP FILM [options] [FILM [options]]... -o OUT\n"
    "       jugendstil lay FILE.ora [--layer NAME [options]]... [-o OUT]\n\n"
    "Lays paintings over their photo again, each with its strength, blend mode and mask, without\n"
    "painting anew. What stands behind a painting counts for it; what stands before the first counts\n"
    "for all that have no own. Films are laid over their clip in the same way; their masks are of the\n"
    "first frame and follow what they cover, or are clips themselves. Of a file in layers, what stands\n"
    "behind a --layer is changed of it, and all is written back as layers or as one picture; without\n"
    "-o its layers are listed.\n\n"
    "  jugendstil lay gate.jpg gate_oil.png --opacity 60 -o gate_60.png\n"
    "  jugendstil lay gate.jpg oil.png --mask sky.png lino.png --blend multiply --brush-away face.svg -o "
    "gate.png\n"
    "  jugendstil lay gate.ora --layer painting --opacity 40 --brush-away face.svg -o gate_40.ora\n";

po::options_description layerOptions() {
  auto options = optionGroup("Of each painting");
  options.add_options()("layer", textsValue("NAME"),
                        "the layer of a file in layers that is changed by what follows")(
      "opacity", textsValue("0..1|PERCENT"), "how much of it lies over what is below: 60, 60% or 0.6 (1)")(
      "blend", textsValue("MODE"),
      "how: normal, multiply, screen, overlay, soft-light ... luminosity (normal)")(
      "mask", textsValue("MASK"), "where it shows: white (a grey picture or SVG)")(
      "drawing", textsValue("FILE.svg"), "where it shows: the strokes of a drawing, in place of --mask")(
      "brush-away", textsValue("FILE.svg[@OPACITY]"),
      "take it away where strokes are drawn, as opaque as they are, or @60 of it")(
      "brush-back", textsValue("FILE.svg[@OPACITY]"), "bring it back there; both in their order")(
      "feather", textsValue("PX"), "soften its mask's edge over so many pixels each way");
  return options;
}

po::options_description fileOptions() {
  auto options = optionGroup("Files");
  options.add_options()("pictures", textsValue("PHOTO PAINTING..."),
                        "the photo, and what was painted from it (the plain words)")(
      "output,o", textValue("OUT"), "the picture to write; .ora keeps photo and paintings as layers")(
      "depth", textValue("auto|8|16|float"), "bits of a value (auto: the photo's)")(
      "quality", textValue("0..100"), "of a JPEG (auto: 95) or WebP (auto: 92)")(
      "force,f", "replace files that exist")("quiet,q", "nothing but errors");
  addHelpOptions(options);
  return options;
}

// An option as it was given, and for which painting: -1 for all.
struct Given {
  std::string name;
  std::string value;
  int painting = -1;
};

// The options of paintings, or of layers, in the order of the command line, which a map of options does not
// keep.
std::vector<Given> inOrder(const Words& words, const po::options_description& options,
                           const po::positional_options_description& positions, bool ofLayers) {
  const int style = po::command_line_style::unix_style ^ po::command_line_style::allow_guessing;
  const auto parsed =
      po::command_line_parser(words).options(options).positional(positions).style(style).run();
  std::vector<Given> all;
  int at = ofLayers ? -1 : -2;
  for (const auto& option : parsed.options) {
    if (ofLayers ? option.string_key == "layer" : option.position_key >= 0)
      at += static_cast<int>(option.value.size());
    else
      for (const std::string& value : option.value)
        all.push_back({option.string_key, value, std::max(-1, at)});
  }
  return all;
}

struct Stroke {
  std::string file;
  double opacity = 1;
};

Stroke strokeOf(const Given& one) {
  const auto at = one.value.rfind('@');
  if (at == std::string::npos || at == 0 || fs::exists(one.value)) return {one.value, 1};
  return {one.value.substr(0, at), shareSetting("--" + one.name, one.value.substr(at + 1))};
}

// What was given of each of them.
class Layers {
 public:
  Layers(const Texts& names, const Texts& masks) : masks_(masks) {
    for (const std::string& name : names) layers_.push_back({name, {}, {}, {}});
  }

  void take(const std::vector<Given>& given) {
    // What counts for all comes first, so that a painting's own wins.
    for (const bool own : {false, true}) {
      std::size_t mask = 0;
      for (const Given& one : given) {
        const std::string& file = one.name == "mask" ? masks_[mask++] : one.value;
        if (own == (one.painting >= 0)) set(one, file);
      }
    }
  }

  const std::vector<LayerChange>& changes() const { return layers_; }
  std::vector<LaidPainting> paintings() const {
    std::vector<LaidPainting> all;
    for (const LayerChange& l : layers_)
      all.push_back({l.name, l.opacity.value_or(1), l.blend.value_or(BlendMode::normal), l.mask});
    return all;
  }

 private:
  void set(const Given& one, const std::string& value) {
    for (std::size_t i = 0; i < layers_.size(); ++i) {
      if (one.painting < 0 || static_cast<std::size_t>(one.painting) == i) set(layers_[i], one, value);
    }
  }

  void set(LayerChange& painting, const Given& one, const std::string& value) const {
    if (one.name == "opacity") painting.opacity = shareSetting("--opacity", value);
    if (one.name == "blend") painting.blend = blendModeOf(value);
    if (one.name == "mask" || one.name == "drawing") painting.mask.file = value;
    if (one.name == "feather") painting.mask.feather = numberSetting("--feather", value, 0, 10000);
    if (one.name != "brush-away" && one.name != "brush-back") return;
    const Stroke stroke = strokeOf(one);
    painting.mask.strokes.push_back({stroke.file, stroke.opacity, one.name == "brush-away"});
  }

  const Texts& masks_;
  std::vector<LayerChange> layers_;
};

void requireTarget(const fs::path& output, const Texts& pictures, const po::variables_map& given) {
  if (extensionOf(output) != ".ora") requireWritableName(output);
  // Layers may be written back to their own file, which was read whole by then.
  const bool back = extensionOf(output) == ".ora" && pictures.size() == 1;
  for (const std::string& picture : pictures) {
    if (!back) requireOther(output, picture);
  }
  requireFree(output, given.count("force") != 0);
  requirePlace(output);
}

Encoding encodingFor(const fs::path& output, const po::variables_map& given) {
  // Strength is turned and turned again.
  const Encoding encoding{depthSetting("depth", textOf(given, "depth", "auto")),
                          qualitySetting("quality", textOf(given, "quality", "auto")), true};
  if (extensionOf(output) != ".ora") requireEncoding(output, encoding);
  return encoding;
}

void tellMade(const fs::path& output, const LaidPicture& made, const po::variables_map& given) {
  if (given.count("quiet") == 0) say(stdout, "{}: {}x{}\n", output.string(), made.width, made.height);
}

int listLayers(const fs::path& file) {
  const LayeredPicture picture = readOpenRaster(file);
  say(stdout, "{}: {}x{}, from the top:\n", file.string(), picture.width, picture.height);
  for (std::size_t i = picture.layers.size(); i-- > 0;) {
    const PictureLayer& layer = picture.layers[i];
    say(stdout, "  {}: {}, opacity {:.0f} %{}\n", layer.name, blendModeName(layer.blend), 100 * layer.opacity,
        layer.visible ? "" : ", hidden");
  }
  return 0;
}

// The command, of a file in layers.
int layLayersOf(const Words& words, const po::variables_map& given,
                const po::positional_options_description& positions) {
  const Texts pictures = listOf(given, "pictures");
  if (pictures.size() > 1)
    throw UsageError(fmt::format("layers of {} are named by --layer, not \"{}\"", pictures[0], pictures[1]));
  const auto options = inOrder(words, layHelp().options(), positions, true);
  for (const Given& one : options) {
    if (one.painting < 0 && layerOptions().find_nothrow(one.name, false) != nullptr)
      throw UsageError(fmt::format("of which layer is --{}? Put --layer NAME before it", one.name));
  }
  if (given.count("output") == 0) {
    if (given.count("layer") != 0)
      throw UsageError("lay needs a place for the result: add -o OUT.ora or .png");
    return listLayers(pictures[0]);
  }
  const fs::path output =
      outputFor(textOf(given, "output"), fs::path(pictures[0]).stem().string() + "-laid.ora");
  requireTarget(output, pictures, given);
  const Texts masks = listOf(given, "mask");
  Layers layers(listOf(given, "layer"), masks);
  layers.take(options);
  tellMade(output, layLayers(pictures[0], layers.changes(), output, encodingFor(output, given)), given);
  return 0;
}

// The command, of films and their clip.
int layClipOf(const Words& words, const po::variables_map& given,
              const po::positional_options_description& positions) {
  const Texts clips = listOf(given, "pictures");
  if (clips.size() < 2)
    throw UsageError("lay needs a clip and a film of it: jugendstil lay CLIP FILM -o OUT");
  if (given.count("output") == 0) throw UsageError("lay needs a place for the result: add -o OUT.mp4");
  if (given.count("depth") != 0) throw UsageError("--depth is of pictures; a film has that of its clip");
  const std::string output = textOf(given, "output");
  const ClipCodec codec = codecForName(output);
  requireCodecFits(output, codec);
  requireSoundFits(output, clips[0]);
  for (const std::string& clip : clips) requireOther(output, clip);
  const bool force = given.count("force") != 0;
  const bool frames = isFramePattern(output);
  if (!frames) requireFree(output, force);
  requireFreeFrames(output, "", force);
  requirePlace(frames ? frameName(output, 0) : output);
  const auto quality = qualitySetting("quality", textOf(given, "quality", "auto"));
  const Texts masks = listOf(given, "mask");
  Layers layers({clips.begin() + 1, clips.end()}, masks);
  layers.take(inOrder(words, layHelp().options(), positions, false));
  const InterruptWatch interrupt;
  ProgressDisplay display(progressStyle("auto", given.count("quiet") != 0));
  const LaidClip made =
      layOverClip(clips[0], layers.paintings(), output, quality.value_or(kUsualQuality),
                  [&](std::int64_t done, std::int64_t all) {
                    display.show(static_cast<double>(done) / static_cast<double>(all), "frame", done, all);
                    interrupt.stopIfWanted();
                  });
  display.finish();
  if (given.count("quiet") != 0) return 0;
  for (const std::int64_t cut : made.cuts)
    say(stderr, "note: there is a cut before frame {}; masks of the first frame end there\n", cut);
  if (!made.missing.empty())
    say(stderr, "note: {} frame{} could not be read, the first of them {}\n", made.missing.size(),
        made.missing.size() == 1 ? "" : "s", made.missing.front());
  say(stdout, "{}: {}x{}, {} frames\n", output, made.width, made.height, made.frames);
  return 0;
}

}  // namespace

CommandHelp layHelp() { return {kUsage, {fileOptions(), layerOptions()}}; }

int layCommand(const Words& words) {
  const CommandHelp help = layHelp();
  po::positional_options_description positions;
  positions.add("pictures", -1);
  const auto given = parseWords(words, help.options(), positions, "lay");
  if (sayHelpIfAsked(given, help)) return 0;
  const Texts pictures = listOf(given, "pictures");
  if (!pictures.empty() && extensionOf(pictures[0]) == ".ora") return layLayersOf(words, given, positions);
  if (given.count("layer") != 0)
    throw UsageError("--layer is of a file in layers: jugendstil lay FILE.ora --layer NAME -o OUT");
  if (!pictures.empty() && isClipName(pictures[0])) return layClipOf(words, given, positions);
  if (pictures.size() < 2)
    throw UsageError("lay needs a photo and a painting of it: jugendstil lay PHOTO PAINTING -o OUT");
  if (given.count("output") == 0) throw UsageError("lay needs a place for the result: add -o OUT.png");
  const fs::path output =
      outputFor(textOf(given, "output"), fs::path(pictures[1]).stem().string() + "-laid.png");
  requireTarget(output, pictures, given);
  const Encoding encoding = encodingFor(output, given);
  const Texts masks = listOf(given, "mask");
  Layers layers({pictures.begin() + 1, pictures.end()}, masks);
  layers.take(inOrder(words, help.options(), positions, false));
  tellMade(output, layOver(pictures[0], layers.paintings(), output, encoding), given);
  return 0;
}

}  // namespace jugendstil::cli
