// SPDX-License-Identifier: Apache-2.0
#include "report/gallery_page.h"

#include <fmt/format.h>

#include <sstream>

#include "base/file_name.h"
#include "base/markup.h"
#include "report/template.h"

namespace jugendstil {
namespace {

// A name as a link: what has a meaning of its own there is written in hexadecimal.
std::string linkTo(const std::string& name) {
  std::string out;
  for (const char c : name) {
    const auto byte = static_cast<unsigned char>(c);
    const bool plain = std::isalnum(byte) != 0 || c == '/' || c == '.' || c == '-' || c == '_';
    out += plain ? std::string(1, c) : fmt::format("%{:02X}", byte);
  }
  return out;
}

bool isFilm(const std::string& file) {
  const std::string extension = extensionOf(file);
  return extension == ".mp4" || extension == ".webm";
}

std::string shownText(const GalleryItem& item) {
  const std::string link = linkTo(item.file);
  const std::string caption = escapedMarkup(item.caption);
  if (isFilm(item.file))
    return fmt::format("<video src=\"{}\" controls loop muted playsinline preload=\"auto\"></video>", link);
  if (item.before.empty())
    return fmt::format("<a href=\"{0}\"><img src=\"{0}\" alt=\"{1}\"></a>", link, caption);
  return fmt::format(
      "<div class=\"stage\"><img src=\"{}\" alt=\"before\"><img src=\"{}\" alt=\"{}\">"
      "<div class=\"handle\" tabindex=\"0\" role=\"slider\" aria-label=\"Divider between before and after\" "
      "aria-valuemin=\"0\" aria-valuemax=\"100\" aria-valuenow=\"50\"></div></div>",
      linkTo(item.before), link, caption);
}

// Broken between words only, not at the dashes of options.
std::string commandText(const std::string& command) {
  std::istringstream words(command);
  std::string text;
  for (std::string word; words >> word;)
    text += fmt::format("{}<span>{}</span>", text.empty() ? "" : " ", escapedMarkup(word));
  return "<code>" + text + "</code>";
}

std::string itemText(const GalleryItem& item) {
  std::string text =
      fmt::format("<figure{}>{}<figcaption>", item.wide ? " class=\"wide\"" : "", shownText(item));
  if (!item.beside.empty())
    text += fmt::format("<img src=\"{}\" alt=\"the reference\">", linkTo(item.beside));
  text += fmt::format("<div><p>{}</p>", escapedMarkup(item.caption));
  if (!item.command.empty()) text += commandText(item.command);
  return text + "</div></figcaption></figure>\n";
}

}  // namespace

std::string galleryPage(const std::string& title, const std::string& lead,
                        const std::vector<GallerySection>& sections) {
  std::string body;
  for (const GallerySection& section : sections) {
    body += fmt::format("<section>\n<h2>{}</h2>\n<p>{}</p>\n<div class=\"hang\">\n",
                        escapedMarkup(section.title), escapedMarkup(section.text));
    for (const GalleryItem& item : section.items) body += itemText(item);
    body += "</div>\n</section>\n";
  }
  return filledTemplate(
      kGalleryPage,
      {{"@TITLE@", escapedMarkup(title)}, {"@LEAD@", escapedMarkup(lead)}, {"@SECTIONS@", body}});
}

}  // namespace jugendstil
