#include "core/select/colour_reach.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/image/lab.h"

namespace hseam::select {
namespace {

using base::Rect;
using image::TiledImage;

constexpr int kSide = 65;

// Least CIEDE2000 to the samples, for a grid of encoded colours.
class Table {
 public:
  Table(const std::vector<std::array<double, 3>>& samples, base::Executor& executor) : grid_(std::size_t(kSide) * kSide * kSide) {
    std::vector<image::Lab> wanted;
    wanted.reserve(samples.size());
    for (const auto& s : samples) wanted.push_back(image::labFromEncoded(s));
    executor.forEach(kSide, [&](int r) {
      for (int g = 0; g < kSide; ++g) {
        for (int b = 0; b < kSide; ++b) {
          const image::Lab here = image::labFromEncoded({r / double(kSide - 1), g / double(kSide - 1), b / double(kSide - 1)});
          double least = 1e9;
          for (const image::Lab& w : wanted) least = std::min(least, image::deltaE2000(here, w));
          grid_[index(r, g, b)] = float(least);
        }
      }
    });
  }
  // Colours 0..1, straight between the eight neighbours.
  float at(float r, float g, float b) const {
    const float x = std::clamp(r, 0.f, 1.f) * (kSide - 1), y = std::clamp(g, 0.f, 1.f) * (kSide - 1),
                z = std::clamp(b, 0.f, 1.f) * (kSide - 1);
    const int i = std::min(int(x), kSide - 2), j = std::min(int(y), kSide - 2), k = std::min(int(z), kSide - 2);
    const float u = x - float(i), v = y - float(j), w = z - float(k);
    const float* p = grid_.data() + index(i, j, k);
    const auto along = [&](const float* q) { return q[0] + (q[1] - q[0]) * w; };
    const auto plane = [&](const float* q) {
      const float near = along(q), far = along(q + kSide);
      return near + (far - near) * v;
    };
    const float near = plane(p), far = plane(p + kSide * kSide);
    return near + (far - near) * u;
  }

 private:
  static std::size_t index(int r, int g, int b) { return (std::size_t(r) * kSide + std::size_t(g)) * kSide + std::size_t(b); }
  std::vector<float> grid_;
};

std::uint8_t coverageOf(float difference, const ColourReach& o) {
  if (difference <= float(o.reach)) return 255;
  if (o.shoulder <= 0) return 0;
  const float t = (difference - float(o.reach)) / float(o.shoulder);
  return t >= 1 ? std::uint8_t(0) : std::uint8_t(std::lround(255 * (1 - t * t * (3 - 2 * t))));
}

// What hangs together with the seeds, and a soft rim of two px round it.
void keepJoined(image::Raster<std::uint8_t>& chosen, const std::vector<base::Point>& seeds) {
  const int w = chosen.width(), h = chosen.height();
  std::vector<std::uint8_t> joined(chosen.pixels(), 0);
  std::vector<std::pair<int, int>> open;
  const auto offer = [&](int x, int y) {
    if (x < 0 || y < 0 || x >= w || y >= h) return;
    const std::size_t i = std::size_t(y) * std::size_t(w) + std::size_t(x);
    if (joined[i] || chosen.samples()[i] < 128) return;
    joined[i] = 1;
    open.emplace_back(x, y);
  };
  for (const base::Point& s : seeds) offer(int(std::floor(s.x)), int(std::floor(s.y)));
  while (!open.empty()) {
    const auto [x, y] = open.back();
    open.pop_back();
    offer(x - 1, y), offer(x + 1, y), offer(x, y - 1), offer(x, y + 1);
  }
  constexpr int kRim = 2;
  for (int round = 0; round < kRim; ++round) {
    std::vector<std::size_t> rim;
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) {
        const std::size_t i = std::size_t(y) * std::size_t(w) + std::size_t(x);
        if (joined[i] || chosen.samples()[i] == 0) continue;
        const bool beside = (x > 0 && joined[i - 1]) || (x + 1 < w && joined[i + 1]) || (y > 0 && joined[i - std::size_t(w)]) ||
                            (y + 1 < h && joined[i + std::size_t(w)]);
        if (beside) rim.push_back(i);
      }
    }
    for (const std::size_t i : rim) joined[i] = 1;
  }
  for (std::size_t i = 0; i < joined.size(); ++i) {
    if (!joined[i]) chosen.samples()[i] = 0;
  }
}

}  // namespace

base::Result<TiledImage> chosenByColour(const TiledImage& picture, const ColourReach& o, base::Executor& executor,
                                        const base::Progress& progress) try {
  if (o.samples.empty()) return base::Error{base::Code::invalid, "", "no colour has been pointed at"};
  const Table table(o.samples, executor);
  const base::Size size = picture.size();
  image::Raster<std::uint8_t> chosen(size.width, size.height);
  constexpr int kBand = 128;
  for (int top = 0; top < size.height; top += kBand) {
    if (progress.cancelled()) return base::cancelledError();
    const Rect band{0, top, size.width, std::min(kBand, size.height - top)};
    HSEAM_TRY(const image::Raster<float> px, image::readFloat(picture, 0, band));
    const int channels = px.channels();
    executor.forEach(band.height, [&](int y) {
      const float* p = px.row(y);
      std::uint8_t* to = chosen.row(top + y);
      for (int x = 0; x < size.width; ++x, p += channels) to[x] = coverageOf(table.at(p[0], p[1], p[2]), o);
    });
    progress.report(0.8 * (top + band.height) / size.height);
  }
  if (!o.joinedTo.empty()) keepJoined(chosen, o.joinedTo);
  if (o.inverted) {
    for (std::uint8_t& v : chosen.samples()) v = std::uint8_t(255 - v);
  }
  return image::tiledFromRaster(chosen, image::PixelFormat::grey8, picture.memory(), executor);
} catch (...) {
  return base::caught();
}

base::Result<std::array<double, 3>> colourAround(const TiledImage& picture, base::Point at, int radius) {
  const int x = int(std::floor(at.x)), y = int(std::floor(at.y));
  const Rect area = Rect{x - radius, y - radius, 2 * radius + 1, 2 * radius + 1}.intersected(Rect::of(picture.size()));
  if (area.empty()) return base::Error{base::Code::invalid, "", "that place lies outside the picture"};
  HSEAM_TRY(const image::Raster<float> px, image::readFloat(picture, 0, area));
  std::array<double, 3> sum{0, 0, 0};
  for (std::size_t i = 0; i < px.pixels(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) sum[c] += double(px.samples()[i * std::size_t(px.channels()) + c]);
  }
  for (double& v : sum) v /= double(px.pixels());
  return sum;
}

}  // namespace hseam::select
