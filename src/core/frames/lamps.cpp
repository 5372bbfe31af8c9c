#include "core/frames/lamps.h"

#include <algorithm>
#include <cmath>

#include "core/frames/blocks.h"
#include "core/image/level.h"
#include "core/image/transfer.h"

namespace hseam::frames {
namespace {

using base::Rect;
using base::Result;
using image::PixelFormat;
using image::Raster;

struct Pixel {
  std::array<float, 3> light{};
  bool shown = true;
};
Pixel pixelAt(const Raster<float>& read, std::size_t i) {
  const std::size_t ch = std::size_t(read.channels());
  const float* c = read.samples().data() + i * ch;
  Pixel p;
  p.shown = ch != 4 || c[3] > 0;
  for (std::size_t n = 0; n < 3; ++n) p.light[n] = image::fastLinear(c[ch < 3 ? 0 : n]);
  return p;
}

base::Status addBlock(const std::vector<Frame>& frames, const std::vector<Lamp>& lamps, const Rect& block, PixelFormat format,
                      int width, int firstRow, std::byte* rows) {
  HSEAM_TRY(const Raster<float> base, frames[0].read(0, block));
  std::vector<std::array<float, 3>> sum(base.pixels());
  for (std::size_t i = 0; i < sum.size(); ++i) sum[i] = pixelAt(base, i).light;
  for (std::size_t k = 1; k < frames.size(); ++k) {
    const Lamp& lamp = lamps[k - 1];
    if (lamp.strength <= 0) continue;
    HSEAM_TRY(const Raster<float> lit, frames[k].read(0, block));
    for (std::size_t i = 0; i < sum.size(); ++i) {
      const Pixel p = pixelAt(lit, i);
      if (!p.shown) continue;
      const Pixel own = pixelAt(base, i);
      for (std::size_t c = 0; c < 3; ++c) sum[i][c] += float(lamp.strength * lamp.tint[c]) * (p.light[c] - own.light[c]);
    }
  }
  for (std::size_t i = 0; i < sum.size(); ++i) {
    const int x = block.x + int(i % std::size_t(block.width)), y = block.y + int(i / std::size_t(block.width)) - firstRow;
    const std::array<float, 3> encoded{image::fastEncoded(sum[i][0]), image::fastEncoded(sum[i][1]),
                                       image::fastEncoded(sum[i][2])};
    put(format, std::size_t(y) * std::size_t(width) + std::size_t(x), encoded.data(), rows);
  }
  return {};
}

constexpr double kMeasuredPixels = 65536;
constexpr float kLeastStops = 0.1f, kLeastLight = 0.005f;

float lightnessOf(const std::array<float, 3>& c) {
  return 0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2];
}

Lights measured(const Raster<float>& base, const Raster<float>& lit, Raster<std::uint8_t>& unlit) {
  Lights out;
  double x = 0, y = 0, all = 0, count = 0;
  std::array<double, 3> added{};
  std::vector<float> stops;
  for (std::size_t i = 0; i < base.pixels(); ++i) {
    const Pixel own = pixelAt(base, i), with = pixelAt(lit, i);
    const float before = lightnessOf(own.light), after = lightnessOf(with.light), more = after - before;
    if (!with.shown || more < kLeastLight || after < before * std::exp2(kLeastStops)) continue;
    unlit.samples()[i] = 0;
    ++count;
    all += double(more);
    const int column = int(i % std::size_t(base.width())), row = int(i / std::size_t(base.width()));
    x += double(more) * (column + 0.5) / base.width();
    y += double(more) * (row + 0.5) / base.height();
    for (std::size_t c = 0; c < 3; ++c) added[c] += double(with.light[c] - own.light[c]);
    stops.push_back(std::log2(after / std::max(1e-4f, before)));
  }
  if (stops.empty()) return out;
  out.share = count / double(base.pixels());
  out.brightest = {x / all, y / all};
  std::nth_element(stops.begin(), stops.begin() + long(stops.size() / 2), stops.end());
  out.stops = double(stops[stops.size() / 2]);
  for (std::size_t c = 0; c < 3; ++c) out.colour[c] = added[1] > 0 ? std::max(0.0, added[c] / added[1]) : 1;
  return out;
}

}  // namespace

Result<image::TiledImage> litBy(const std::vector<Frame>& frames, const std::vector<Lamp>& lamps, base::Executor& executor,
                                const base::Progress& progress) {
  HSEAM_DO(checkFrames(frames));
  if (lamps.size() + 1 != frames.size())
    return base::Error{base::Code::invalid, "lamps", "there must be one lamp for each frame after the base"};
  const base::Size size = frames[0].size();
  const PixelFormat format = withoutAlpha(frames[0].picture().format());
  return image::tiledFromRows(
      size, format, frames[0].picture().memory(), executor, progress, [&](int first, int count, std::byte* rows) {
        return blocksOf(size.width, first, count, executor,
                        [&](const Rect& block) { return addBlock(frames, lamps, block, format, size.width, first, rows); });
      });
}

Result<WhatLights> whatLights(const std::vector<Frame>& frames) {
  HSEAM_DO(checkFrames(frames));
  const image::TiledImage& base = frames[0].picture();
  const int level = image::levelOfAtMost(base, kMeasuredPixels);
  const Rect all = Rect::of(base.level(level).size);
  HSEAM_TRY(const Raster<float> own, image::readFloat(base, level, all));
  WhatLights out{{}, Raster<std::uint8_t>(all.width, all.height, 1, 1)};
  for (std::size_t k = 1; k < frames.size(); ++k) {
    HSEAM_TRY(const Raster<float> lit, frames[k].read(level, all));
    out.frames.push_back(measured(own, lit, out.unlit));
  }
  return out;
}

}  // namespace hseam::frames
