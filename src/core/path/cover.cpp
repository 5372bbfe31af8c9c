#include "core/path/cover.h"

#include <algorithm>
#include <cmath>
#include <new>

namespace hseam::path {
namespace {

using base::Point;
using base::Rect;

constexpr double kChordPx = 1.0 / 2000;

struct Line {
  Point a, b;
};

std::vector<Line> linesOf(const Outline& o) {
  std::vector<Line> lines;
  const auto points = flattened(o, kChordPx);
  for (std::size_t i = 0; i < points.size(); ++i) {
    lines.push_back({points[i], points[(i + 1) % points.size()]});
  }
  return lines;
}

// Signed areas under lines, gathered as differences along each row: a pixel's share is the sum of all entries up to it.
class Sums {
 public:
  explicit Sums(const Rect& area)
      : area_(area), stride_(std::size_t(area.width) + 2), sums_(stride_ * std::size_t(area.height), 0.f) {}

  void add(const Line& line) {
    if (line.a.y == line.b.y) return;
    const double sign = line.a.y < line.b.y ? 1 : -1;
    Point top = sign > 0 ? line.a : line.b, bottom = sign > 0 ? line.b : line.a;
    const double slope = (bottom.x - top.x) / (bottom.y - top.y);
    const double first = std::max(top.y, double(area_.y)), last = std::min(bottom.y, double(area_.bottom()));
    if (first >= last) return;
    for (int y = int(std::floor(first)); y < last; ++y) {
      const double from = std::max(first, double(y)), to = std::min(last, double(y + 1));
      if (to <= from) continue;
      addPiece(y, top.x + (from - top.y) * slope, top.x + (to - top.y) * slope, sign * (to - from));
    }
  }

  // Straight along x within one row of pixels; height: the signed share of the row that the piece spans.
  void addPiece(int y, double x0, double x1, double height) {
    float* row = sums_.data() + stride_ * std::size_t(y - area_.y);
    double l = std::min(x0, x1) - area_.x, r = std::max(x0, x1) - area_.x;
    const double width = area_.width;
    if (r <= 0) {
      row[0] += float(height);
      return;
    }
    if (l >= width) return;
    // What lies beyond the sides acts as if it stood on them.
    if (l < 0 || r > width) {
      const double whole = r - l;
      const double left = l < 0 ? -l / whole : 0, right = r > width ? (r - width) / whole : 0;
      row[0] += float(height * left);
      height *= 1 - left - right;
      l = std::max(l, 0.0), r = std::min(r, width);
    }
    const int first = int(l), last = std::min(int(r), area_.width);
    if (first == last || r - l < 1e-12) {
      // All in one pixel: the share to the right of the piece inside it, the rest from the next on.
      const double inside = 1 - ((l + r) / 2 - first);
      row[first] += float(height * inside);
      row[first + 1] += float(height * (1 - inside));
      return;
    }
    const double perPx = height / (r - l);
    for (int x = first; x <= last; ++x) {
      const double a = std::max(l, double(x)), b = std::min(r, double(x + 1));
      if (b <= a) continue;
      const double part = perPx * (b - a), inside = 1 - ((a + b) / 2 - x);
      row[x] += float(part * inside);
      row[x + 1] += float(part * (1 - inside));
    }
  }

  void write(std::vector<float>& out) const {
    out.resize(std::size_t(area_.width) * std::size_t(area_.height));
    for (int y = 0; y < area_.height; ++y) {
      const float* row = sums_.data() + stride_ * std::size_t(y);
      double sum = 0;
      for (int x = 0; x < area_.width; ++x) {
        sum += double(row[x]);
        out[std::size_t(y) * std::size_t(area_.width) + std::size_t(x)] = float(std::min(1.0, std::abs(sum)));
      }
    }
  }

 private:
  Rect area_;
  std::size_t stride_;
  std::vector<float> sums_;
};

struct Flat {
  Joins joins;
  std::vector<Line> lines;
};
std::vector<Flat> flat(const Path& path) {
  std::vector<Flat> all;
  for (const Outline& o : path.outlines) {
    if (o.closed && o.nodes.size() > 1) all.push_back({o.joins, linesOf(o)});
  }
  return all;
}

float joined(float before, float now, Joins how) {
  if (how == Joins::add) return std::max(before, now);
  return how == Joins::takeAway ? std::min(before, 1 - now) : std::min(before, now);
}

std::vector<float> shareIn(const std::vector<Flat>& all, const Rect& area) {
  std::vector<float> share(std::size_t(area.width) * std::size_t(area.height), 0.f), one;
  for (const Flat& f : all) {
    Sums sums(area);
    for (const Line& l : f.lines) {
      if (std::min(l.a.x, l.b.x) < area.right()) sums.add(l);
    }
    sums.write(one);
    for (std::size_t i = 0; i < share.size(); ++i) share[i] = joined(share[i], one[i], f.joins);
  }
  return share;
}

bool crosses(const Line& l, const Rect& r) {
  return std::max(l.a.x, l.b.x) >= r.x && std::min(l.a.x, l.b.x) <= r.right() && std::max(l.a.y, l.b.y) >= r.y &&
         std::min(l.a.y, l.b.y) <= r.bottom();
}

std::uint8_t grey(float share) {
  return std::uint8_t(std::lround(share * 255));
}

}  // namespace

image::Raster<std::uint8_t> coverageIn(const Path& path, const Rect& area) {
  image::Raster<std::uint8_t> out(area.width, area.height);
  const std::vector<float> share = shareIn(flat(path), area);
  for (std::size_t i = 0; i < share.size(); ++i) out.samples()[i] = grey(share[i]);
  return out;
}

base::Result<image::TiledImage> coverage(const Path& path, base::Size size, const std::shared_ptr<image::TileMemory>& memory,
                                         base::Executor& executor) try {
  const std::vector<Flat> all = flat(path);
  const image::TiledImage nothing = image::uniformCoverage(size, 0, memory);
  image::ImageEditor editor(nothing);
  const auto& level = nothing.level(0);
  const int count = level.columns * level.rows;
  std::vector<image::Bytes> tiles(static_cast<std::size_t>(count));
  executor.forEach(count, [&](int i) {
    const Rect tile{i % level.columns * image::kTileSide, i / level.columns * image::kTileSide, image::kTileSide,
                    image::kTileSide};
    const bool edge = std::any_of(all.begin(), all.end(), [&](const Flat& f) {
      return std::any_of(f.lines.begin(), f.lines.end(), [&](const Line& l) { return crosses(l, tile); });
    });
    image::Bytes& bytes = tiles[std::size_t(i)];
    // A tile that no edge crosses is of one value: that of any of its pixels.
    const std::vector<float> share = shareIn(all, edge ? tile : Rect{tile.x, tile.y, 1, 1});
    if (!edge && share[0] < 0.5f) return;
    bytes.resize(image::kTilePixels);
    for (std::size_t k = 0; k < bytes.size(); ++k) bytes[k] = std::byte(grey(share[edge ? k : 0]));
  });
  for (int i = 0; i < count; ++i) {
    if (!tiles[std::size_t(i)].empty()) editor.setTile(i % level.columns, i / level.columns, std::move(tiles[std::size_t(i)]));
  }
  return std::move(editor).commit(executor);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::path
