// SPDX-License-Identifier: Apache-2.0
#include "grade/lut_file.h"

#include <OpenColorIO/OpenColorIO.h>
#include <fmt/format.h>
#include <stdlib.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <sstream>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "base/number.h"
#include "base/words.h"
#include "helper/helper.h"
#include "helper/packing.h"
#include "image/picture_file.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
namespace OCIO = OCIO_NAMESPACE;

constexpr int kImportedSide = 65;  // where the file holds more than one table
constexpr std::size_t kMostLut = std::size_t{256} << 20;

bool isHald(const std::string& ext) { return ext == ".png" || ext == ".tif" || ext == ".tiff"; }

OCIO::Lut3DTransformRcPtr transformOf(const ColourTable& table) {
  auto lut = OCIO::Lut3DTransform::Create(static_cast<unsigned long>(table.size));
  lut->setInterpolation(OCIO::INTERP_TETRAHEDRAL);
  lut->setFileOutputBitDepth(OCIO::BIT_DEPTH_F32);
  const auto n = static_cast<unsigned long>(table.size);
  for (unsigned long b = 0, at = 0; b < n; ++b) {
    for (unsigned long g = 0; g < n; ++g) {
      for (unsigned long r = 0; r < n; ++r, at += 3) {
        lut->setValue(r, g, b, table.rgb[at], table.rgb[at + 1], table.rgb[at + 2]);
      }
    }
  }
  return lut;
}

// The library's names for the first format of that extension that it writes: of whole transforms, and of
// baked tables.
const char* transformFormatWith(const std::string& extension) {
  for (int i = 0; i < OCIO::GroupTransform::GetNumWriteFormats(); ++i) {
    if (extension == OCIO::GroupTransform::GetFormatExtensionByIndex(i)) {
      return OCIO::GroupTransform::GetFormatNameByIndex(i);
    }
  }
  throw Error(fmt::format("this installation of OpenColorIO cannot write .{} files", extension));
}

const char* tableFormatWith(const std::string& extension) {
  for (int i = 0; i < OCIO::Baker::getNumFormats(); ++i) {
    if (extension == OCIO::Baker::getFormatExtensionByIndex(i)) return OCIO::Baker::getFormatNameByIndex(i);
  }
  throw Error(fmt::format("this installation of OpenColorIO cannot write .{} files", extension));
}

std::string clfText(const Look& look, const ColourTable& table) {
  const auto group = OCIO::GroupTransform::Create();
  group->appendTransform(transformOf(table));
  group->getFormatMetadata().setName(look.name.c_str());
  std::ostringstream out;
  group->write(OCIO::Config::CreateRaw(), transformFormatWith("clf"), out);
  return out.str();
}

std::string cubeText(const ColourTable& table) {
  // The raw configuration's own space counts as data and is never converted, so there is another for the
  // input.
  const auto config = OCIO::Config::CreateRaw()->createEditableCopy();
  const auto display = OCIO::ColorSpace::Create();
  display->setName("display");
  config->addColorSpace(display);
  const auto space = OCIO::ColorSpace::Create();
  space->setName("look");
  space->setTransform(transformOf(table), OCIO::COLORSPACE_DIR_FROM_REFERENCE);
  config->addColorSpace(space);
  const auto baker = OCIO::Baker::Create();
  baker->setConfig(config);
  baker->setFormat(tableFormatWith("cube"));
  baker->setInputSpace("display");
  baker->setTargetSpace("look");
  baker->setCubeSize(table.size);
  std::ostringstream out;
  baker->bake(out);
  return out.str();
}

// Between the points of a finer table the look's own is interpolated, as it is when it is applied.
ColourTable exportedTable(const Look& look, int size) {
  ColourTable own = lookTable(look);
  if (own.size == size) return own;
  return tabulated(size, [&](const std::array<float, 3>& rgb) { return interpolated(own, rgb); });
}

void writeHald(const fs::path& path, const Look& look, int size) {
  const int level = size <= 36 ? 6 : 8;
  const ColourTable table = exportedTable(look, level * level);
  Image picture(level * level * level, level * level * level);
  picture.pixels = table.rgb;
  writePicture(path, picture, Depth::sixteen);
}

// A look of identity numbers whose residual is the table's difference from the identity.
Look lookOf(ColourTable table, const fs::path& path) {
  const std::size_t n = table.size;
  const float scale = 1.0F / static_cast<float>(table.size - 1);
  for (std::size_t i = 0; i < table.nodes(); ++i) {
    const std::size_t layer = i / (n * n);
    table.rgb[i * 3] -= static_cast<float>(i % n) * scale;
    table.rgb[i * 3 + 1] -= static_cast<float>(i / n % n) * scale;
    table.rgb[i * 3 + 2] -= static_cast<float>(layer) * scale;
  }
  Look look;
  look.name = path.stem().string();
  look.residual = std::move(table);
  return look;
}

Look readHald(const fs::path& path) {
  const Image picture = rgbOf(readPicture(path).image);
  const int level = rounded(std::cbrt(picture.width));
  if (picture.width != picture.height || level * level * level != picture.width || level < 2 || level > 11) {
    throw Error(
        fmt::format("{}: {}x{} is not a Hald picture, whose sides are equal and a cube like 216 or 512",
                    path.string(), picture.width, picture.height));
  }
  return lookOf({level * level, picture.pixels}, path);
}

// A name that the library takes as it stands: it looks for variables in names ("$SHOT", "%SHOT%").
class PlainName {
 public:
  explicit PlainName(const fs::path& path) : path_(fs::absolute(path)) {
    if (path_.string().find_first_of("$%") == std::string::npos) return;
    std::string pattern = fs::temp_directory_path() / "jugendstil-XXXXXX";
    if (mkdtemp(pattern.data()) == nullptr)
      throw DiskError(fmt::format("{}: cannot be opened", path.string()), std::strerror(errno));
    folder_ = pattern;
    const fs::path link = folder_ / ("table" + extensionOf(path));
    fs::create_symlink(path_, link);
    path_ = link;
  }
  ~PlainName() {
    std::error_code code;
    if (!folder_.empty()) fs::remove_all(folder_, code);
  }
  PlainName(const PlainName&) = delete;
  PlainName& operator=(const PlainName&) = delete;
  const fs::path& path() const { return path_; }

 private:
  fs::path path_;
  fs::path folder_;  // empty: the name was plain already
};

// Numbers in a line, as far as they go; `all` is whether nothing else stands there.
int numbersIn(const std::string& line, bool& all) {
  std::istringstream words(line);
  int count = 0;
  double value = 0;
  while (words >> value) ++count;
  words.clear();
  std::string rest;
  all = !(words >> rest);
  return count;
}

// Says what is wrong with a .cube that the library did not take. Throws Error.
[[noreturn]] void refuseCube(const std::string& text, const fs::path& path) {
  const auto fail = [&](std::size_t line, const std::string& what) {
    throw Error(fmt::format("{}, line {}: {}", path.string(), line, what));
  };
  std::istringstream lines(text);
  std::string line;
  long side = 0;
  long rows = 0;
  std::size_t number = 0;
  while (std::getline(lines, line)) {
    ++number;
    const std::size_t begin = line.find_first_not_of(" \t\r");
    if (begin == std::string::npos || line[begin] == '#') continue;
    const bool word = std::isalpha(static_cast<unsigned char>(line[begin])) != 0;
    if (line.compare(begin, 11, "LUT_3D_SIZE") == 0) {
      side = std::strtol(line.c_str() + begin + 11, nullptr, 10);
      if (side < 2 || side > 256) fail(number, "LUT_3D_SIZE is a whole number from 2 to 256");
    } else if (!word) {
      bool all = false;
      if (numbersIn(line, all) != 3 || !all) fail(number, "a line of the table is three numbers");
      ++rows;
    }
  }
  if (side == 0) fail(number, "the file has no line LUT_3D_SIZE, so it is no table of colours");
  if (rows != side * side * side)
    fail(number, fmt::format("a table of {0}x{0}x{0} has {1} lines, this one {2}; export it anew", side,
                             side * side * side, rows));
  throw Error(fmt::format("{}: is not a colour table that can be read; export it anew", path.string()));
}

int sideOf(const OCIO::ConstProcessorRcPtr& processor) {
  const auto group = processor->createGroupTransform();
  if (group->getNumTransforms() != 1) return kImportedSide;
  const auto lut = OCIO_DYNAMIC_POINTER_CAST<OCIO::Lut3DTransform>(group->getTransform(0));
  return lut ? std::clamp(static_cast<int>(lut->getGridSize()), 2, kImportedSide) : kImportedSide;
}

// The work of the helper: a name that the library takes, the name for messages, and the file's text.
void tabulateLut(Asker& asker) {
  const std::string name = asker.next();
  const fs::path path = asker.next();
  const std::string text = asker.next();
  try {
    const auto transform = OCIO::FileTransform::Create();
    transform->setSrc(name.c_str());
    transform->setInterpolation(OCIO::INTERP_TETRAHEDRAL);
    const auto processor = OCIO::Config::CreateRaw()->getProcessor(transform);
    const auto cpu = processor->getDefaultCPUProcessor();
    const ColourTable table = tabulated(sideOf(processor), [&](const std::array<float, 3>& rgb) {
      std::array<float, 3> out = rgb;
      cpu->applyRGB(out.data());
      return out;
    });
    Packer answer;
    answer.value(table.size);
    answer.values(table.rgb);
    asker.answer(answer.bytes());
  } catch (const OCIO::Exception& e) {
    if (extensionOf(path) == ".cube") refuseCube(text, path);
    throw Error(
        fmt::format("{}{}: is not a colour table that can be read (Common LUT Format); export it anew",
                    path.string(), placeToldIn(e.what())));
  }
}

}  // namespace

bool isLutName(const fs::path& path) {
  const std::string ext = extensionOf(path);
  return ext == ".cube" || ext == ".clf" || isHald(ext);
}

void writeLut(const fs::path& path, const Look& look, int size) {
  const std::string ext = extensionOf(path);
  if (isHald(ext)) return writeHald(path, look, size);
  if (ext != ".cube" && ext != ".clf") {
    throw UsageError(
        fmt::format("cannot tell the format of {}: end its name in .cube, .clf or .png", path.string()));
  }
  const ColourTable table = exportedTable(look, size);
  try {
    writeFileAtomically(path, ext == ".clf" ? clfText(look, table) : cubeText(table));
  } catch (const OCIO::Exception&) {
    throw Error(fmt::format("cannot write {}: its numbers do not make a table; look at the look itself",
                            path.string()));
  }
}

Look readLut(const fs::path& path) {
  if (isHald(extensionOf(path))) return readHald(path);
  requireRegularFile(path);  // the library opens it once more
  const std::string text = readFile(path, kMostLut);
  const PlainName name(path);
  Helper helper(tabulateLut, path.string());
  helper.allow(patienceFor(text.size()));
  for (const std::string& told : {name.path().string(), path.string(), text}) helper.ask(told);
  const std::string answer = helper.answer();
  Unpacker said(answer);
  ColourTable table;
  table.size = said.value<decltype(table.size)>();
  table.rgb = said.values<float>();
  const bool whole = table.size >= 2 && table.size <= kImportedSide && table.rgb.size() == table.nodes() * 3;
  if (!whole) throw Error(fmt::format("{}: is not a colour table that can be read", path.string()));
  return lookOf(std::move(table), path);
}

}  // namespace jugendstil
