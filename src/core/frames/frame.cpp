#include "core/frames/frame.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/frames/blocks.h"
#include "core/frames/cubic.h"
#include "core/image/transfer.h"

namespace hseam::frames {
namespace {

using base::Rect;
using base::Result;
using image::Raster;
using image::TiledImage;

constexpr float kCutOff = 251 / 255.f;  // encoded: 0.96 of light
constexpr int kFiner = 2;               // levels below that on which cut-off light is counted

// Between px of two levels of the same number.
Homography atLevel(const Homography& map, int level) {
  const double k = double(1 << level);
  return Homography::scaling(1 / k).after(map.after(Homography::scaling(k)));
}

// The px of the frame that an area of the base needs.
Rect needed(const Homography& toFrame, const Rect& area, base::Size frame) {
  double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
  for (const base::Point corner :
       {base::Point{double(area.x), double(area.y)}, base::Point{double(area.right()), double(area.y)},
        base::Point{double(area.x), double(area.bottom())}, base::Point{double(area.right()), double(area.bottom())}}) {
    const base::Point p = toFrame.map(corner);
    left = std::min(left, p.x), right = std::max(right, p.x), top = std::min(top, p.y), bottom = std::max(bottom, p.y);
  }
  if (!(right - left < 1e6 && bottom - top < 1e6)) return {};
  const Rect r{int(std::floor(left)) - 3, int(std::floor(top)) - 3, int(right - left) + 8, int(bottom - top) + 8};
  return r.intersected(Rect::of(frame));
}

// Light in fours, so that a px is one vector.
Result<Raster<float>> lightOf(const TiledImage& picture, int level, const Rect& area) {
  Raster<float> out(area.width, area.height, 4);
  const auto channels = std::size_t(image::channelsOf(picture.format()));
  const auto spread = [&](std::size_t i, auto light) {
    for (std::size_t c = 0; c < 3; ++c) out.samples()[i * 4 + c] = light(i * channels + (channels < 3 ? 0 : c));
  };
  if (!image::isWide(picture.format())) {
    HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(picture, level, area));
    const std::array<float, 256>& linear = image::linearOf8();
    for (std::size_t i = 0; i < out.pixels(); ++i) spread(i, [&](std::size_t at) { return linear[read.samples()[at]]; });
    return out;
  }
  HSEAM_TRY(const Raster<float> read, image::readFloat(picture, level, area));
  for (std::size_t i = 0; i < out.pixels(); ++i) spread(i, [&](std::size_t at) { return image::fastLinear(read.samples()[at]); });
  return out;
}

// The light at a place of the frame's level, in px of the raster; px beyond its edge are those at its edge.
std::array<float, 4> lightAt(const Raster<float>& light, double u, double v) {
  const int ix = int(std::floor(u)), iy = int(std::floor(v));
  const auto wx = keysCubic(float(u - ix)), wy = keysCubic(float(v - iy));
  std::array<float, 4> sum{};
  const bool inside = ix >= 1 && iy >= 1 && ix + 2 < light.width() && iy + 2 < light.height();
  for (int k = 0; k < 4; ++k) {
    const int y = inside ? iy - 1 + k : std::clamp(iy - 1 + k, 0, light.height() - 1);
    std::array<float, 4> row{};
    for (int j = 0; j < 4; ++j) {
      const float* s = light.at(inside ? ix - 1 + j : std::clamp(ix - 1 + j, 0, light.width() - 1), y);
      for (std::size_t c = 0; c < 4; ++c) row[c] += wx[std::size_t(j)] * s[c];
    }
    for (std::size_t c = 0; c < 4; ++c) sum[c] += wy[std::size_t(k)] * row[c];
  }
  return sum;
}

}  // namespace

Frame::Frame(TiledImage picture) : picture_(std::move(picture)), size_(picture_.size()) {}

Frame::Frame(TiledImage picture, const Homography& toBase, base::Size base, const LightChange& light)
    : picture_(std::move(picture)), toFrame_(toBase.inverse()), size_(base), liesOnBase_(false) {
  const auto by = [](double stops) { return float(std::exp2(-stops)); };
  gain_[0] = by(light.gainStops + light.redStops);
  gain_[1] = by(light.gainStops);
  gain_[2] = by(light.gainStops + light.blueStops);
}

Result<Raster<float>> Frame::read(int level, const Rect& area) const {
  if (liesOnBase_) return image::readFloat(picture_, level, area);
  const int own = std::min(level, picture_.levelCount() - 1);
  const Homography map = atLevel(toFrame_, level);
  // Where the frame is so small that it has no such level, its last one is read, in px of the level that was asked for.
  const Homography toOwn = Homography::scaling(std::exp2(level - own)).after(map);
  const base::Size frame = picture_.level(own).size;
  Raster<float> out(area.width, area.height, 4);
  const Rect have = needed(toOwn, area, frame);
  if (have.empty()) return out;
  HSEAM_TRY(const Raster<float> light, lightOf(picture_, own, have));
  // A px of a coarser level shows something where all of it does.
  const double rim = level > 0 ? 0.5 : 0;
  for (int y = 0; y < area.height; ++y) {
    float* to = out.row(y);
    for (int x = 0; x < area.width; ++x, to += 4) {
      const base::Point p = toOwn.map({area.x + x + 0.5, area.y + y + 0.5});
      if (!(p.x >= rim && p.y >= rim && p.x <= frame.width - rim && p.y <= frame.height - rim)) continue;
      const std::array<float, 4> sum = lightAt(light, p.x - 0.5 - have.x, p.y - 0.5 - have.y);
      for (std::size_t c = 0; c < 3; ++c) to[c] = sum[c] * gain_[c];
      to[3] = 1;
    }
  }
  // Alpha of 0 and 1 stays what it is: one loop over all samples.
  for (float& v : out.samples()) v = image::fastEncoded(v);
  return out;
}

Result<Raster<std::uint8_t>> Frame::cutOff(int level, const Rect& area) const {
  if (liesOnBase_) return Raster<std::uint8_t>();
  const int own = std::min(std::max(0, level - kFiner), picture_.levelCount() - 1);
  const int parts = 1 << std::clamp(level - own, 0, kFiner);
  const double k = double(1 << level), ownPx = double(1 << own);
  const Homography toOwn = Homography::scaling(1 / ownPx).after(toFrame_.after(Homography::scaling(k)));
  const base::Size frame = picture_.level(own).size;
  Raster<std::uint8_t> out(area.width, area.height, 1);
  const Rect have = needed(toOwn, area, frame);
  if (have.empty()) return out;
  HSEAM_TRY(const Raster<float> read, image::readFloat(picture_, own, have));
  const auto channels = std::size_t(read.channels()), colours = channels < 3 ? std::size_t(1) : std::size_t(3);
  Raster<std::uint8_t> bright(read.width(), read.height(), 1);
  for (std::size_t i = 0; i < read.pixels(); ++i) {
    const float* c = read.samples().data() + i * channels;
    bright.samples()[i] = *std::max_element(c, c + colours) >= kCutOff;
  }
  // Within a px the map is as good as straight.
  const double step = 1.0 / parts;
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const base::Point at{area.x + x + step / 2, area.y + y + step / 2},
          p = toOwn.map(at), right = toOwn.map({at.x + step, at.y}), down = toOwn.map({at.x, at.y + step});
      int count = 0;
      for (int n = 0; n < parts * parts; ++n) {
        const int i = n % parts, j = n / parts;
        const int u = int(std::floor(p.x + (right.x - p.x) * i + (down.x - p.x) * j)) - have.x,
                  v = int(std::floor(p.y + (right.y - p.y) * i + (down.y - p.y) * j)) - have.y;
        if (u >= 0 && v >= 0 && u < have.width && v < have.height) count += *bright.at(u, v);
      }
      *out.at(x, y) = std::uint8_t(255 * count / (parts * parts));
    }
  }
  return out;
}

base::Status checkFrames(const std::vector<Frame>& frames) {
  constexpr std::size_t kMost = 250;  // labels have 8 bits
  if (frames.empty() || frames.size() > kMost) return base::Error{base::Code::invalid, "", "a montage takes 1 to 250 frames"};
  if (!frames[0].liesOnBase()) return base::Error{base::Code::conflict, "", "the first frame is not the base"};
  for (const Frame& f : frames) {
    if (f.size() != frames[0].size()) return base::Error{base::Code::conflict, "", "the frames differ in size"};
  }
  return {};
}

Result<TiledImage> onBase(const Frame& frame, base::Executor& executor, const base::Progress& progress) {
  if (frame.liesOnBase()) return frame.picture();
  const int width = frame.size().width;
  return image::tiledFromRows(frame.size(), image::PixelFormat::rgba16, frame.picture().memory(), executor, progress,
                              [&](int first, int count, std::byte* bytes) {
                                return blocksOf(width, first, count, executor, [&](const Rect& block) -> base::Status {
                                  HSEAM_TRY(const Raster<float> read, frame.read(0, block));
                                  auto* rows = reinterpret_cast<std::uint16_t*>(bytes);
                                  for (int y = 0; y < block.height; ++y) {
                                    auto* to =
                                        rows + (std::size_t(block.y - first + y) * std::size_t(width) + std::size_t(block.x)) * 4;
                                    std::transform(read.row(y), read.row(y) + block.width * 4, to,
                                                   [](float v) { return image::wholeOf<std::uint16_t>(v * 65535); });
                                  }
                                  return {};
                                });
                              });
}

}  // namespace hseam::frames
