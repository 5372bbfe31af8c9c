#include "core/render/sample.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/image/transfer.h"

namespace hseam::render {
namespace {

using base::Affine;
using base::Rect;
using image::Raster;
using image::TiledImage;

// ------------------------------------------------------------------ copying: the grids coincide

bool isWholeMove(const Affine& m) {
  const double eps = 1e-9;
  return std::abs(m.a - 1) < eps && std::abs(m.d - 1) < eps && std::abs(m.b) < eps && std::abs(m.c) < eps &&
         std::abs(m.e - std::round(m.e)) < 1e-6 && std::abs(m.f - std::round(m.f)) < 1e-6;
}

template <class T>
void copyPart(const image::TilePin& p, const Rect& tilePart, int channels, const Rect& area, int dx, int dy, int firstPlane,
              bool times, Planes& out) {
  const float scale = sizeof(T) == 1 ? 1 / 255.f : 1 / 65535.f;
  for (int y = tilePart.y; y < tilePart.bottom(); ++y) {
    const T* from = p.isUniform() ? reinterpret_cast<const T*>(p.value())
                                  : reinterpret_cast<const T*>(p.data()) +
                                        ((y % image::kTileSide) * image::kTileSide + tilePart.x % image::kTileSide) * channels;
    const int step = p.isUniform() ? 0 : channels;
    const long at = long(y + dy - area.y) * area.width + (tilePart.x + dx - area.x);
    for (int c = 0; c < channels; ++c) {
      float* to = out.colour(firstPlane + c) + at;
      if (times) {
        for (int x = 0; x < tilePart.width; ++x) to[x] *= float(from[x * step + c]) * scale;
      } else {
        for (int x = 0; x < tilePart.width; ++x) to[x] = float(from[x * step + c]) * scale;
      }
    }
  }
}

base::Status copyPlanes(const TiledImage& image, int level, const Rect& area, int dx, int dy, int firstPlane, bool times,
                        Planes& out) {
  const TiledImage::Level& l = image.level(level);
  const Rect inside = Rect{area.x - dx, area.y - dy, area.width, area.height}.intersected(Rect::of(l.size));
  if (inside.empty()) return {};
  const int side = image::kTileSide;
  for (int row = inside.y / side; row <= (inside.bottom() - 1) / side; ++row) {
    for (int column = inside.x / side; column <= (inside.right() - 1) / side; ++column) {
      HSEAM_TRY(const image::TilePin p, image::pin(l.tile(column, row)));
      const Rect part = inside.intersected({column * side, row * side, side, side});
      if (image::isWide(image.format())) {
        copyPart<std::uint16_t>(p, part, image::channelsOf(image.format()), area, dx, dy, firstPlane, times, out);
      } else {
        copyPart<std::uint8_t>(p, part, image::channelsOf(image.format()), area, dx, dy, firstPlane, times, out);
      }
    }
  }
  return {};
}

base::Status copySampled(const Sampled& what, int level, const Affine& m, const Rect& area, Planes& out) {
  const int dx = int(std::lround(m.e)), dy = int(std::lround(m.f));
  const TiledImage& any = what.colours ? *what.colours : *what.mask;
  const Rect shown = Rect::of(any.level(level).size);
  std::fill_n(out.alpha(), out.count(), 0.f);
  const Rect covered = Rect{shown.x + dx, shown.y + dy, shown.width, shown.height}.intersected(area);
  for (int y = covered.y; y < covered.bottom(); ++y) {
    std::fill_n(out.alpha() + long(y - area.y) * area.width + (covered.x - area.x), covered.width, 1.f);
  }
  if (what.colours) HSEAM_DO(copyPlanes(*what.colours, level, area, dx, dy, 0, false, out));
  if (what.mask) HSEAM_DO(copyPlanes(*what.mask, level, area, dx, dy, 3, true, out));
  return {};
}

// ------------------------------------------------------------------ resampling

double catmullRom(double x) {
  x = std::abs(x);
  if (x < 1) return (1.5 * x - 2.5) * x * x + 1;
  return x < 2 ? ((-0.5 * x + 2.5) * x - 4) * x + 2 : 0;
}

// The source pixels and weights for one output coordinate along one axis.
struct Taps {
  int first = 0;
  int count = 0;
  float weight[64];
};

// centre: in source px (edges at integers); widening ≥ 1 stretches the kernel for reduction.
void tapsFor(double centre, double widening, Taps& t) {
  const double reach = 2 * widening;
  t.first = int(std::ceil(centre - reach - 0.5));
  t.count = std::min(64, int(std::floor(centre + reach - 0.5)) - t.first + 1);
  double sum = 0, w[64];
  for (int i = 0; i < t.count; ++i) sum += w[i] = catmullRom((t.first + i + 0.5 - centre) / widening);
  for (int i = 0; i < t.count; ++i) t.weight[i] = float(w[i] / sum);
}

// A window of the source level as linear premultiplied RGBA, edge pixels repeated outside.
base::Result<Raster<float>> windowOf(const Sampled& what, int level, const Rect& area) {
  const auto& t = image::transferTables();
  Raster<float> out(area.width, area.height, 4, 1.f);
  if (what.colours) {
    HSEAM_TRY(const Raster<float> colours, image::readFloat(*what.colours, level, area));
    const int ch = colours.channels();
    const float* in = colours.row(0);
    float* o = out.row(0);
    for (std::size_t i = 0, n = out.pixels(); i < n; ++i, in += ch, o += 4) {
      for (int c = 0; c < 3; ++c) o[c] = image::fastLinear(in[c], t);
      if (ch == 4) o[3] = in[3];
    }
  }
  if (what.mask) {
    HSEAM_TRY(const Raster<float> mask, image::readFloat(*what.mask, level, area));
    float* o = out.row(0);
    for (std::size_t i = 0, n = out.pixels(); i < n; ++i, o += 4) o[3] *= mask.samples()[i];
  }
  float* o = out.row(0);
  for (std::size_t i = 0, n = out.pixels(); i < n; ++i, o += 4) {
    for (int c = 0; c < 3; ++c) o[c] *= o[3];
  }
  return out;
}

struct Accumulated {
  float v[4] = {0, 0, 0, 0};
};

void store(const Accumulated& s, float border, const image::TransferTables& t, long at, Planes& out) {
  const float a = std::clamp(s.v[3], 0.f, 1.f);
  const float inverse = a > 1e-6f ? 1 / a : 0.f;
  for (int c = 0; c < 3; ++c) out.colour(c)[at] = image::fastEncoded(s.v[c] * inverse, t);
  out.alpha()[at] = a * border;
}

// How much of the output pixel with this centre lies inside the picture, from the distances to its four sides.
struct Border {
  Affine toSource;
  base::Size size;
  double sx, sy;  // source px per output px across the vertical and the horizontal sides
  float at(double x, double y) const {
    const base::Point p = toSource.map({x, y});
    const auto inside = [](double distance) { return std::clamp(distance + 0.5, 0.0, 1.0); };
    return float(inside(p.x / sx) * inside((size.width - p.x) / sx) * inside(p.y / sy) * inside((size.height - p.y) / sy));
  }
};

struct Grid {
  Affine toLevel;  // output px → px of the source level
  double widenX, widenY;
  Border border;
};

void resampleStraight(const Grid& g, const Rect& area, const Rect& window, const Raster<float>& source, Planes& out) {
  const auto& table = image::transferTables();
  std::vector<Taps> columns(std::size_t(area.width));
  for (int x = 0; x < area.width; ++x) tapsFor(g.toLevel.a * (area.x + x + 0.5) + g.toLevel.e, g.widenX, columns[std::size_t(x)]);
  // Rows of the window squeezed along x once, then along y for every output row.
  Raster<float> squeezed(area.width, window.height, 4);
  for (int y = 0; y < window.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const Taps& t = columns[std::size_t(x)];
      const float* in = source.at(t.first - window.x, y);
      Accumulated s;
      for (int i = 0; i < t.count; ++i, in += 4) {
        for (int c = 0; c < 4; ++c) s.v[c] += t.weight[i] * in[c];
      }
      std::copy_n(s.v, 4, squeezed.at(x, y));
    }
  }
  Taps rows;
  for (int y = 0; y < area.height; ++y) {
    tapsFor(g.toLevel.d * (area.y + y + 0.5) + g.toLevel.f, g.widenY, rows);
    for (int x = 0; x < area.width; ++x) {
      Accumulated s;
      for (int i = 0; i < rows.count; ++i) {
        const float* in = squeezed.at(x, rows.first + i - window.y);
        for (int c = 0; c < 4; ++c) s.v[c] += rows.weight[i] * in[c];
      }
      store(s, g.border.at(area.x + x + 0.5, area.y + y + 0.5), table, long(y) * area.width + x, out);
    }
  }
}

void resampleTurned(const Grid& g, const Rect& area, const Rect& window, const Raster<float>& source, Planes& out) {
  const auto& table = image::transferTables();
  Taps across, down;
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const long at = long(y) * area.width + x;
      const float border = g.border.at(area.x + x + 0.5, area.y + y + 0.5);
      if (border <= 0) {
        out.alpha()[at] = 0;
        for (int c = 0; c < 3; ++c) out.colour(c)[at] = 0;
        continue;
      }
      const base::Point p = g.toLevel.map({area.x + x + 0.5, area.y + y + 0.5});
      tapsFor(p.x, g.widenX, across);
      tapsFor(p.y, g.widenY, down);
      Accumulated s;
      for (int j = 0; j < down.count; ++j) {
        const float* in = source.at(across.first - window.x, down.first + j - window.y);
        Accumulated row;
        for (int i = 0; i < across.count; ++i, in += 4) {
          for (int c = 0; c < 4; ++c) row.v[c] += across.weight[i] * in[c];
        }
        for (int c = 0; c < 4; ++c) s.v[c] += down.weight[j] * row.v[c];
      }
      store(s, border, table, at, out);
    }
  }
}

}  // namespace

base::Status samplePicture(const Sampled& what, const Rect& area, Planes& out) {
  const TiledImage& any = what.colours ? *what.colours : *what.mask;
  const auto toSource = what.toOutput.inverse();
  if (!toSource) {
    std::fill_n(out.alpha(), out.count(), 0.f);
    return {};
  }
  const double reduction = std::sqrt(std::abs(toSource->determinant()));
  const int level = std::clamp(int(std::floor(std::log2(reduction) + 1e-6)), 0, any.levelCount() - 1);
  const double down = 1.0 / (1 << level);
  const Affine fromLevel = what.toOutput.after(Affine::scaling(1 / down));
  if (isWholeMove(fromLevel)) return copySampled(what, level, fromLevel, area, out);

  const double perX = std::hypot(toSource->a, toSource->b), perY = std::hypot(toSource->c, toSource->d);
  Grid g{Affine::scaling(down).after(*toSource),
         std::max(1.0, perX * down),
         std::max(1.0, perY * down),
         {*toSource, any.size(), perX, perY}};
  // A reduction beyond the coarsest level would need more taps than there are: 15 source px a side are plenty there.
  g.widenX = std::min(g.widenX, 15.0);
  g.widenY = std::min(g.widenY, 15.0);
  const int margin = int(std::ceil(2 * std::max(g.widenX, g.widenY))) + 2;
  const Rect wanted = base::boundsOf(g.toLevel, area).grown(margin);
  const Rect picture = Rect::of(any.level(level).size);
  if (wanted.grown(2).intersected(picture).empty()) {
    std::fill_n(out.alpha(), out.count(), 0.f);
    return {};
  }
  HSEAM_TRY(const Raster<float> window, windowOf(what, level, wanted));
  const bool straight = toSource->b == 0 && toSource->c == 0;
  (straight ? resampleStraight : resampleTurned)(g, area, wanted, window, out);
  return {};
}

base::Status sampleCoverage(const TiledImage& mask, const Affine& toOutput, const Rect& area, float* out) {
  Planes planes(area.width * area.height);
  HSEAM_DO(samplePicture({nullptr, &mask, toOutput}, area, planes));
  std::copy_n(planes.alpha(), planes.count(), out);
  return {};
}

}  // namespace hseam::render
