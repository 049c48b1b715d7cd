// SPDX-License-Identifier: Apache-2.0
#include "grade/look_file.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <array>
#include <charconv>
#include <cmath>
#include <vector>

#include "base/error.h"
#include "base/number.h"
#include "base/toml_reader.h"
#include "base/words.h"
#include "grade/tone.h"

namespace jugendstil {
namespace {

constexpr int kFormat = 1;
constexpr double kResidualUnit = 1e-4;
constexpr std::size_t kMostCurvePoints = 256;

// Every plain number of a look: where it stands in the file, its range, and what it does.
struct Number {
  const char* table;
  const char* key;
  double least;
  double most;
  const char* help;
  double* (*of)(Look&);
};

const std::array<Number, 7> kNumbers{{
    {"tone", "exposure", -8, 8, "EV of light, before the curve", [](Look& l) { return &l.exposure; }},
    {"tone", "black", 0, 0.9, "where black comes out, 0 to 1", [](Look& l) { return &l.black; }},
    {"tone", "white", 0.1, 1, "where white comes out, 0 to 1", [](Look& l) { return &l.white; }},
    {"colour", "saturation", 0, 4, "1 keeps it, 0 is grey", [](Look& l) { return &l.saturation; }},
    {"detail", "fine", 0, 4, "1 keeps it", [](Look& l) { return &l.detail[0]; }},
    {"detail", "medium", 0, 4, "1 keeps it", [](Look& l) { return &l.detail[1]; }},
    {"detail", "broad", 0, 4, "1 keeps it", [](Look& l) { return &l.detail[2]; }},
}};

constexpr std::array<const char*, kToneRanges> kRangeNames{"shadows", "midtones", "lights"};
constexpr double kMostCast = 0.4;

std::string plain(double value) { return fmt::format("{:.5g}", value == 0 ? 0.0 : value); }

std::string residualText(const ColourTable& table) {
  if (table.size == 0) return {};
  std::string out = fmt::format(
      "\n# What the numbers above leave, in ten-thousandths of display red, green and blue: size x size x "
      "size\n"
      "# triples, red running fastest. Delete this table for a look of the plain numbers only.\n"
      "[residual]\nsize = {}\ntable = [",
      table.size);
  const std::size_t line = std::size_t{3} * table.size;
  for (std::size_t i = 0; i < table.rgb.size(); ++i) {
    if (i % line == 0) out += "\n  ";
    out += fmt::format("{}, ", std::lround(table.rgb[i] / kResidualUnit));
  }
  return out + "\n]\n";
}

class LookReader : TomlReader {
 public:
  LookReader(std::string_view text, const std::filesystem::path& file) : TomlReader(text, file) {}

  Look parse() {
    allow(root(), {"look", "name", "tone", "colour", "detail", "residual"}, "key");
    const auto* format = root().get("look");
    if (format == nullptr)
      fail(root().source(), "the key \"look\" is missing; a look file begins with look = 1");
    if (format->value<std::int64_t>() != kFormat)
      fail(format->source(), "this version reads looks of format 1");
    Look look;
    look.name = text(root(), "name");
    const toml::table& tone = required("tone");
    allow(tone, {"exposure", "black", "white", "curve"}, "key");
    const toml::table& colour = required("colour");
    allow(colour, {"saturation", "shadows", "midtones", "lights"}, "key");
    const toml::table& detail = required("detail");
    allow(detail, {"fine", "medium", "broad"}, "key");
    for (const Number& n : kNumbers) {
      const toml::table& table = required(n.table);
      present(table, n.table, n.key);
      *n.of(look) = number(table, n.key, 0, n.least, n.most);
    }
    if (look.white <= look.black) fail(tone.get("white")->source(), "\"white\" lies above \"black\"");
    look.curve = curve(*present(tone, "tone", "curve"));
    for (std::size_t r = 0; r < kToneRanges; ++r) {
      look.cast[r] = pair(*present(colour, "colour", kRangeNames[r]), kRangeNames[r]);
    }
    look.residual = residual();
    return look;
  }

 private:
  const toml::table& required(const char* name) const {
    const toml::table* table = tableOf(root().get(name), name);
    if (table == nullptr) fail(root().source(), fmt::format("the table [{}] is missing", name));
    return *table;
  }

  const toml::node* present(const toml::table& table, const char* name, const char* key) const {
    const auto* node = table.get(key);
    if (node == nullptr) fail(table.source(), fmt::format("the key \"{}\" is missing in [{}]", key, name));
    return node;
  }

  double element(const toml::node& node, const char* what, double least, double most) const {
    if (!node.is_number()) fail(node.source(), fmt::format("{} holds numbers", what));
    const double v = *node.value<double>();
    if (!(v >= least && v <= most)) {
      fail(node.source(), fmt::format("numbers of {} lie between {} and {}, not {}", what, least, most, v));
    }
    return v;
  }

  std::array<double, 2> pair(const toml::node& node, const char* key) const {
    const toml::array* array = node.as_array();
    if (array == nullptr || array->size() != 2) {
      fail(node.source(), fmt::format("\"{}\" is a pair of numbers, like [0.01, 0.02]", key));
    }
    return {element(*array->get(0), key, -kMostCast, kMostCast),
            element(*array->get(1), key, -kMostCast, kMostCast)};
  }

  std::vector<std::pair<float, float>> curve(const toml::node& node) const {
    const toml::array* array = node.as_array();
    if (array == nullptr || array->size() < 2 || array->size() > kMostCurvePoints) {
      fail(node.source(), "\"curve\" is a list of two or more points, like [[0, 0], [0.5, 0.6], [1, 1]]");
    }
    std::vector<std::pair<float, float>> points;
    for (const toml::node& one : *array) {
      const toml::array* point = one.as_array();
      if (point == nullptr || point->size() != 2)
        fail(one.source(), "a point of the curve is a pair, like [0.5, 0.6]");
      points.emplace_back(static_cast<float>(element(*point->get(0), "the curve", 0, 1)),
                          static_cast<float>(element(*point->get(1), "the curve", 0, 1)));
    }
    try {
      const MonotoneCurve checked(points);
    } catch (const UsageError& e) {
      fail(node.source(), e.what());
    }
    return points;
  }

  ColourTable residual() const {
    const toml::table* table = tableOf(root().get("residual"), "residual");
    ColourTable out;
    if (table == nullptr) return out;
    allow(*table, {"size", "table"}, "key");
    present(*table, "residual", "size");
    out.size = static_cast<int>(number(*table, "size", 0, 2, 65));
    const auto* node = present(*table, "residual", "table");
    const toml::array* array = node->as_array();
    if (array == nullptr || array->size() != out.nodes() * 3) {
      fail(node->source(), fmt::format("a table of size {} holds {} numbers", out.size, out.nodes() * 3));
    }
    for (const toml::node& one : *array) {
      out.rgb.push_back(static_cast<float>(element(one, "the residual", -10000, 10000) * kResidualUnit));
    }
    return out;
  }
};

double parsedNumber(std::string_view name, std::string_view text, double least, double most) {
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !(value >= least && value <= most)) {
    throw UsageError(fmt::format("{} is a number from {} to {}, not \"{}\"", name, least, most, text));
  }
  return value;
}

}  // namespace

std::string lookText(const Look& look) {
  Look copy = look;
  std::string out =
      fmt::format("# A look of Jugendstil. Edit any number and apply it again.\nlook = {}\nname = {}\n",
                  kFormat, tomlText(look.name));
  std::string table;
  for (const Number& n : kNumbers) {
    if (table != n.table) {
      table = n.table;
      out += fmt::format("\n[{}]\n", n.table);
    }
    out += fmt::format("{:<10} = {:<9} # {}\n", n.key, plain(*n.of(copy)), n.help);
    if (table == "tone" && std::string_view(n.key) == "white") {
      out += "curve      = [ # lightness in and out, between black and white\n";
      for (const auto& [x, y] : look.curve) out += fmt::format("  [{:.5g}, {:.5g}],\n", x, y);
      out += "]\n";
    }
    if (table == "colour") {
      out += "# Casts: [green to red, blue to yellow] of Oklab; 0.01 is just seen, 0.05 is strong.\n";
      for (std::size_t r = 0; r < kToneRanges; ++r) {
        out += fmt::format("{:<10} = [{}, {}]\n", kRangeNames[r], plain(look.cast[r][0]),
                           plain(look.cast[r][1]));
      }
    }
  }
  return out + residualText(look.residual);
}

Look parseLook(std::string_view text, const std::filesystem::path& file) {
  return LookReader(text, file).parse();
}

void setLookNumber(Look& look, std::string_view given, std::string_view value) {
  const std::string name =
      given.starts_with("color.") ? "colour." + std::string(given.substr(6)) : std::string(given);
  std::vector<std::string> known;
  for (const Number& n : kNumbers) {
    known.push_back(fmt::format("{}.{}", n.table, n.key));
    if (known.back() != name) continue;
    const double v = parsedNumber(name, value, n.least, n.most);
    *n.of(look) = v;
    if (look.white <= look.black) throw UsageError("tone.white lies above tone.black");
    return;
  }
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    known.push_back(fmt::format("colour.{}", kRangeNames[r]));
    if (known.back() != name) continue;
    const auto comma = value.find(',');
    if (comma == std::string_view::npos) {
      throw UsageError(
          fmt::format("{} is two numbers with a comma between, like 0.01,0.02, not \"{}\"", name, value));
    }
    look.cast[r] = {parsedNumber(name, value.substr(0, comma), -kMostCast, kMostCast),
                    parsedNumber(name, value.substr(comma + 1), -kMostCast, kMostCast)};
    return;
  }
  const std::string near = nearestWord(name, known);
  throw UsageError(fmt::format("a look has no number \"{}\"{}; it has {}", name,
                               near.empty() ? "" : fmt::format(", did you mean \"{}\"?", near),
                               fmt::join(known, ", ")));
}

}  // namespace jugendstil
