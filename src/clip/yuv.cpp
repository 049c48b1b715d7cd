// SPDX-License-Identifier: Apache-2.0
#include "clip/yuv.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>
#include <vector>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

// Red's and blue's part of luma (ITU-T H.273).
struct Luma {
  float red;
  float blue;
  float green() const { return 1 - red - blue; }
};

Luma lumaOf(int matrix) {
  switch (matrix) {
    case AVCOL_SPC_FCC:
      return {0.30F, 0.11F};
    case AVCOL_SPC_BT470BG:
    case AVCOL_SPC_SMPTE170M:
      return {0.299F, 0.114F};
    case AVCOL_SPC_SMPTE240M:
      return {0.212F, 0.087F};
    case AVCOL_SPC_BT2020_NCL:
    case AVCOL_SPC_BT2020_CL:
      return {0.2627F, 0.0593F};
    default:
      return {0.2126F, 0.0722F};
  }
}

// How codes stand for values: luma = (code - zero) / span, chroma = (code - middle) / chromaSpan.
struct Coding {
  float zero;
  float span;
  float middle;
  float chromaSpan;
};

Coding codingOf(int bits, bool full) {
  const auto scale = static_cast<float>(1 << (bits - 8));
  const auto most = static_cast<float>((1 << bits) - 1);
  const auto middle = static_cast<float>(1 << (bits - 1));
  return full ? Coding{0, most, middle, most} : Coding{16 * scale, 219 * scale, middle, 224 * scale};
}

void readLine(const AVFrame& frame, const AVPixFmtDescriptor& format, int component, int y, int width,
              std::vector<std::uint16_t>& line) {
  line.resize(width);
  const std::uint8_t* data[4] = {frame.data[0], frame.data[1], frame.data[2], frame.data[3]};
  av_read_image_line2(line.data(), data, frame.linesize, &format, 0, y, component, width, 0, 2);
}

Image fromRgb(const AVFrame& frame, const AVPixFmtDescriptor& format) {
  Image out(frame.width, frame.height);
  parallelFor(frame.height, [&](int y) {
    std::vector<std::uint16_t> line;
    for (int c = 0; c < 3; ++c) {
      const auto most = static_cast<float>((1 << format.comp[c].depth) - 1);
      readLine(frame, format, c, y, frame.width, line);
      for (int x = 0; x < frame.width; ++x) out.at(x, y, c) = static_cast<float>(line[x]) / most;
    }
  });
  return out;
}

Image fromGrey(const AVFrame& frame, const AVPixFmtDescriptor& format, bool full) {
  Image out(frame.width, frame.height);
  const Coding coding = codingOf(format.comp[0].depth, full);
  parallelFor(frame.height, [&](int y) {
    std::vector<std::uint16_t> line;
    readLine(frame, format, 0, y, frame.width, line);
    for (int x = 0; x < frame.width; ++x) {
      const float v = (static_cast<float>(line[x]) - coding.zero) / coding.span;
      for (int c = 0; c < 3; ++c) out.at(x, y, c) = std::clamp(v, 0.0F, 1.0F);
    }
  });
  return out;
}

// One chroma component at luma's size along x, of one chroma row.
void widen(const std::vector<std::uint16_t>& line, int shift, float offset, int width,
           std::vector<float>& out) {
  out.resize(width);
  const auto last = static_cast<float>(line.size() - 1);
  const auto step = static_cast<float>(1 << shift);
  for (int x = 0; x < width; ++x) {
    const float at = std::clamp((static_cast<float>(x) - offset) / step, 0.0F, last);
    const auto low = static_cast<std::size_t>(at);
    const std::size_t high = std::min(low + 1, line.size() - 1);
    const float part = at - static_cast<float>(low);
    out[x] = static_cast<float>(line[low]) * (1 - part) + static_cast<float>(line[high]) * part;
  }
}

Image fromYuv(const AVFrame& frame, const AVPixFmtDescriptor& format, int matrix, bool full) {
  Image out(frame.width, frame.height);
  const Luma luma = lumaOf(matrixFor(matrix, frame.height));
  const Coding coding = codingOf(format.comp[0].depth, full);
  const int chromaWidth = AV_CEIL_RSHIFT(frame.width, format.log2_chroma_w);
  const int chromaHeight = AV_CEIL_RSHIFT(frame.height, format.log2_chroma_h);
  // Where the first chroma sample lies, in luma pixels: at the left edge's pixel as MPEG-2 and H.264 have it,
  // or between two as JPEG; down the picture between two rows, or on the first.
  const AVChromaLocation place = frame.chroma_location;
  const bool centred =
      place == AVCHROMA_LOC_CENTER || place == AVCHROMA_LOC_TOP || place == AVCHROMA_LOC_BOTTOM;
  const bool onTop = place == AVCHROMA_LOC_TOPLEFT || place == AVCHROMA_LOC_TOP;
  const float across = format.log2_chroma_w > 0 && centred ? 0.5F : 0.0F;
  const float down = format.log2_chroma_h > 0 && !onTop ? 0.5F : 0.0F;
  parallelFor(frame.height, [&](int y) {
    std::vector<std::uint16_t> line;
    std::array<std::vector<float>, 2> chroma;
    std::vector<float> other;
    const float row =
        std::clamp((static_cast<float>(y) - down) / static_cast<float>(1 << format.log2_chroma_h), 0.0F,
                   static_cast<float>(chromaHeight - 1));
    const int first = static_cast<int>(row);
    const float part = row - static_cast<float>(first);
    for (int c = 0; c < 2; ++c) {
      auto& values = chroma[c];
      readLine(frame, format, c + 1, first, chromaWidth, line);
      widen(line, format.log2_chroma_w, across, frame.width, values);
      if (part <= 0) continue;
      readLine(frame, format, c + 1, std::min(first + 1, chromaHeight - 1), chromaWidth, line);
      widen(line, format.log2_chroma_w, across, frame.width, other);
      for (std::size_t x = 0; x < values.size(); ++x) values[x] += part * (other[x] - values[x]);
    }
    readLine(frame, format, 0, y, frame.width, line);
    float* p = out.row(y);
    for (std::size_t x = 0; x < line.size(); ++x, p += 3) {
      const float light = (static_cast<float>(line[x]) - coding.zero) / coding.span;
      const float cb = (chroma[0][x] - coding.middle) / coding.chromaSpan;
      const float cr = (chroma[1][x] - coding.middle) / coding.chromaSpan;
      const float red = light + 2 * (1 - luma.red) * cr;
      const float blue = light + 2 * (1 - luma.blue) * cb;
      const float green = (light - luma.red * red - luma.blue * blue) / luma.green();
      p[0] = std::clamp(red, 0.0F, 1.0F);
      p[1] = std::clamp(green, 0.0F, 1.0F);
      p[2] = std::clamp(blue, 0.0F, 1.0F);
    }
  });
  return out;
}

// Palettes and what else has no plain components.
Image fromOther(const AVFrame& frame) {
  const av::Scaler scaler(sws_getContext(frame.width, frame.height, static_cast<AVPixelFormat>(frame.format),
                                         frame.width, frame.height, AV_PIX_FMT_RGB24,
                                         SWS_BICUBIC | SWS_BITEXACT, nullptr, nullptr, nullptr));
  if (!scaler) throw Error("the frames are stored in a way that cannot be read; convert the clip first");
  const int stride = (frame.width * 3 + 63) / 64 * 64;
  std::vector<std::uint8_t> packed(cellCount(stride, frame.height));
  std::uint8_t* planes[4] = {packed.data(), nullptr, nullptr, nullptr};
  const int strides[4] = {stride, 0, 0, 0};
  sws_scale(scaler.get(), frame.data, frame.linesize, 0, frame.height, planes, strides);
  Image out(frame.width, frame.height);
  for (int y = 0; y < frame.height; ++y) {
    const std::uint8_t* row = packed.data() + cellAt(0, y, stride);
    for (int i = 0; i < frame.width * 3; ++i)
      out.pixels[out.index(0, y, 0) + i] = static_cast<float>(row[i]) / 255;
  }
  return out;
}

int coded(float value, float most) { return rounded(std::clamp(value, 0.0F, most)); }

void put(AVFrame& frame, int plane, int x, int y, bool deep, int code) {
  std::uint8_t* row = frame.data[plane] + std::ptrdiff_t{1} * y * frame.linesize[plane];
  if (deep) {
    reinterpret_cast<std::uint16_t*>(row)[x] = static_cast<std::uint16_t>(code);
  } else {
    row[x] = static_cast<std::uint8_t>(code);
  }
}

// libav's planar RGB stands in the order green, blue, red.
void fillRgb(AVFrame& frame, const Image& image, int bits) {
  constexpr std::array<int, 3> kPlaneOf{2, 0, 1};
  const auto most = static_cast<float>((1 << bits) - 1);
  parallelFor(image.height, [&](int y) {
    for (int x = 0; x < image.width; ++x) {
      for (int c = 0; c < 3; ++c) {
        const int code = coded(image.at(x, y, c) * most, most);
        if (bits > 8) {
          put(frame, kPlaneOf[c], x, y, true, code);
        } else {
          put(frame, 0, x * 4 + 2 - c, y, false, code);
        }
      }
    }
  });
}

void fillYuv(AVFrame& frame, const Image& image, int bits) {
  const Luma luma = lumaOf(frame.colorspace);
  const Coding coding = codingOf(bits, frame.color_range == AVCOL_RANGE_JPEG);
  const auto most = static_cast<float>((1 << bits) - 1);
  const bool deep = bits > 8;
  const auto lightOf = [&](const float* p) {
    return luma.red * p[0] + luma.green() * p[1] + luma.blue * p[2];
  };
  parallelFor((image.height + 1) / 2, [&](int half) {
    for (int y = 2 * half; y < std::min(2 * half + 2, image.height); ++y) {
      for (int x = 0; x < image.width; ++x) {
        const float* p = &image.pixels[image.index(x, y, 0)];
        put(frame, 0, x, y, deep, coded(coding.zero + coding.span * lightOf(p), most));
      }
    }
    for (int x = 0; x < image.width; x += 2) {
      // Over the sample's column and its neighbours, 1 2 1, and both rows.
      std::array<float, 3> mean{};
      for (int v = 0; v < 2; ++v) {
        for (int u = -1; u <= 1; ++u) {
          const float* p = &image.pixels[image.index(std::clamp(x + u, 0, image.width - 1),
                                                     std::min(2 * half + v, image.height - 1), 0)];
          for (std::size_t c = 0; c < 3; ++c) mean[c] += (u == 0 ? 0.25F : 0.125F) * p[c];
        }
      }
      const float light = lightOf(mean.data());
      const float cb = (mean[2] - light) / (2 * (1 - luma.blue));
      const float cr = (mean[0] - light) / (2 * (1 - luma.red));
      put(frame, 1, x / 2, half, deep, coded(coding.middle + coding.chromaSpan * cb, most));
      put(frame, 2, x / 2, half, deep, coded(coding.middle + coding.chromaSpan * cr, most));
    }
  });
}

}  // namespace

int matrixFor(int matrix, int height) {
  if (matrix != AVCOL_SPC_UNSPECIFIED && matrix != AVCOL_SPC_RGB) return matrix;
  return height >= 720 ? AVCOL_SPC_BT709 : AVCOL_SPC_SMPTE170M;
}

Image imageOf(const AVFrame& frame, const ColourTags& tags) {
  const auto* format = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
  constexpr std::uint64_t kOther = AV_PIX_FMT_FLAG_PAL | AV_PIX_FMT_FLAG_BITSTREAM | AV_PIX_FMT_FLAG_HWACCEL |
                                   AV_PIX_FMT_FLAG_BAYER | AV_PIX_FMT_FLAG_FLOAT;
  if (format == nullptr || (format->flags & kOther) != 0 || format->comp[0].depth > 16 ||
      format->comp[0].depth < 8)
    return fromOther(frame);
  if ((format->flags & AV_PIX_FMT_FLAG_RGB) != 0) return fromRgb(frame, *format);
  const auto name = std::string_view(format->name);
  const bool full = frame.color_range == AVCOL_RANGE_JPEG || name.starts_with("yuvj") ||
                    (frame.color_range == AVCOL_RANGE_UNSPECIFIED && tags.fullRange);
  if (format->nb_components < 3) return fromGrey(frame, *format, full);
  return fromYuv(frame, *format, frame.colorspace != AVCOL_SPC_UNSPECIFIED ? frame.colorspace : tags.matrix,
                 full);
}

void fillFrame(AVFrame& frame, const Image& image) {
  const auto& format = *av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
  if ((format.flags & AV_PIX_FMT_FLAG_RGB) != 0) {
    fillRgb(frame, image, format.comp[0].depth);
  } else {
    fillYuv(frame, image, format.comp[0].depth);
  }
}

}  // namespace jugendstil
