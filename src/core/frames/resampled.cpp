#include "core/frames/resampled.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "core/frames/cubic.h"
#include "core/image/transfer.h"

namespace hseam::frames {
namespace {

constexpr float kCutOff = 0.96f;  // of light

using image::Raster;
using image::TiledImage;

// The px of the frame that an area of the base needs.
base::Rect needed(const Homography& toFrame, const base::Rect& area, base::Size frame) {
  double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
  for (const base::Point corner :
       {base::Point{double(area.x), double(area.y)}, base::Point{double(area.right()), double(area.y)},
        base::Point{double(area.x), double(area.bottom())}, base::Point{double(area.right()), double(area.bottom())}}) {
    const base::Point p = toFrame.map(corner);
    left = std::min(left, p.x), right = std::max(right, p.x), top = std::min(top, p.y), bottom = std::max(bottom, p.y);
  }
  if (!(right - left < 1e6 && bottom - top < 1e6)) return {};
  const base::Rect r{int(std::floor(left)) - 3, int(std::floor(top)) - 3, int(right - left) + 8, int(bottom - top) + 8};
  return r.intersected(base::Rect::of(frame));
}

// Light, 0..1 → an encoded sample of 16 bit.
std::uint16_t sampleOf(float light) {
  return image::wholeOf<std::uint16_t>(image::fastEncoded(light) * 65535);
}

void paintBlock(const Raster<float>& light, const base::Rect& have, base::Size frame, const Homography& toFrame,
                const base::Rect& block, int width, std::uint16_t* rows, std::uint8_t* cutOff, int firstRow,
                const std::array<float, 3>& gain) {
  const int channels = light.channels();
  for (int y = block.y; y < block.bottom(); ++y) {
    for (int x = block.x; x < block.right(); ++x) {
      std::uint16_t* out = rows + (std::size_t(y - firstRow) * std::size_t(width) + std::size_t(x)) * 4;
      std::uint8_t& cut = cutOff[std::size_t(y) * std::size_t(width) + std::size_t(x)];
      const base::Point p = toFrame.map({x + 0.5, y + 0.5});
      if (!(p.x >= 0 && p.y >= 0 && p.x <= frame.width && p.y <= frame.height)) {
        std::fill_n(out, 4, std::uint16_t(0));
        continue;
      }
      const double u = p.x - 0.5, v = p.y - 0.5;
      // Frames that lie on the base already are taken as they are.
      constexpr double kWhole = 1e-6;
      if (std::abs(u - std::round(u)) < kWhole && std::abs(v - std::round(v)) < kWhole) {
        const float* s = light.at(std::clamp(int(std::lround(u)), have.x, have.right() - 1) - have.x,
                                  std::clamp(int(std::lround(v)), have.y, have.bottom() - 1) - have.y);
        float brightest = 0;
        for (int c = 0; c < 3; ++c) {
          const float own = s[channels < 3 ? 0 : c];
          brightest = std::max(brightest, own);
          out[c] = sampleOf(own * gain[std::size_t(c)]);
        }
        out[3] = 65535;
        cut = brightest < kCutOff ? 0 : 255;
        continue;
      }
      const int ix = int(std::floor(u)), iy = int(std::floor(v));
      const auto wx = keysCubic(float(u - ix)), wy = keysCubic(float(v - iy));
      std::array<float, 3> sum{};
      float brightest = 0;
      for (int k = 0; k < 4; ++k) {
        const int sy = std::clamp(iy - 1 + k, have.y, have.bottom() - 1) - have.y;
        for (int j = 0; j < 4; ++j) {
          const int sx = std::clamp(ix - 1 + j, have.x, have.right() - 1) - have.x;
          const float w = wx[std::size_t(j)] * wy[std::size_t(k)];
          const float* s = light.at(sx, sy);
          for (int c = 0; c < 3; ++c) sum[std::size_t(c)] += w * s[channels < 3 ? 0 : c];
          brightest = std::max(brightest, channels < 3 ? s[0] : std::max({s[0], s[1], s[2]}));
        }
      }
      for (std::size_t c = 0; c < 3; ++c) out[c] = sampleOf(sum[c] * gain[c]);
      out[3] = 65535;
      cut = brightest < kCutOff ? 0 : 255;
    }
  }
}

}  // namespace

base::Result<Frame> onBase(const TiledImage& frame, const Homography& toBase, base::Size size, const LightChange& change,
                           base::Executor& executor, const base::Progress& progress) {
  const Homography toFrame = toBase.inverse();
  const auto by = [](double stops) { return float(std::exp2(-stops)); };
  const std::array<float, 3> gain{by(change.gainStops + change.redStops), by(change.gainStops),
                                  by(change.gainStops + change.blueStops)};
  constexpr int kBlock = 256;
  Frame out;
  Raster<std::uint8_t> cutOff(size.width, size.height, 1);
  auto laid = image::tiledFromRows(
      size, image::PixelFormat::rgba16, frame.memory(), executor, progress,
      [&](int first, int count, std::byte* bytes) -> base::Status {
        auto* rows = reinterpret_cast<std::uint16_t*>(bytes);
        const int columns = (size.width + kBlock - 1) / kBlock;
        std::vector<base::Status> done(static_cast<std::size_t>(columns));
        executor.forEach(columns, [&](int column) {
          const base::Rect block{column * kBlock, first, std::min(kBlock, size.width - column * kBlock), count};
          const base::Rect have = needed(toFrame, block, frame.size());
          if (have.empty()) {
            for (int y = 0; y < count; ++y)
              std::fill_n(rows + (std::size_t(y) * std::size_t(size.width) + std::size_t(block.x)) * 4,
                          std::size_t(block.width) * 4, std::uint16_t(0));
            return;
          }
          auto read = image::readFloat(frame, 0, have);
          if (!read.ok()) {
            done[std::size_t(column)] = read.error();
            return;
          }
          for (float& v : read->samples()) v = image::fastLinear(v);
          paintBlock(*read, have, frame.size(), toFrame, block, size.width, rows, cutOff.row(0), first, gain);
        });
        for (const base::Status& s : done) HSEAM_DO(s);
        return {};
      });
  HSEAM_TRY(out.picture, std::move(laid));
  HSEAM_TRY(out.cutOff, image::tiledFromRaster(cutOff, image::PixelFormat::grey8, frame.memory(), executor));
  return out;
}

}  // namespace hseam::frames
