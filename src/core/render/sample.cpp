#include "core/render/sample.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "core/image/transfer.h"
#include "core/render/rows.h"

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

// Calls use(tile's pin, part of the level inside this tile) for every tile under `inside`.
template <class Use>
base::Status eachTile(const TiledImage::Level& level, const Rect& inside, const Use& use) {
  constexpr int side = image::kTileSide;
  for (int row = inside.y / side; row <= (inside.bottom() - 1) / side; ++row) {
    for (int column = inside.x / side; column <= (inside.right() - 1) / side; ++column) {
      HSEAM_TRY(const image::TilePin p, image::pin(level.tile(column, row)));
      use(p, inside.intersected({column * side, row * side, side, side}));
    }
  }
  return {};
}

const std::byte* rowOf(const image::TilePin& p, const Rect& part, int y, std::size_t step) {
  return p.data() + std::size_t((y % image::kTileSide) * image::kTileSide + part.x % image::kTileSide) * step;
}

bool allZero(const std::byte* bytes, std::size_t count) {
  // All equal the first, and that is zero.
  return bytes[0] == std::byte{0} && std::memcmp(bytes, bytes + 1, count - 1) == 0;
}

// A window of a level, moved by (dx, dy) onto the planes of `area`.
struct Copy {
  const Rect& area;
  int dx, dy;
  Planes& out;
  long at(const Rect& part, int y) const { return long(y + dy - area.y) * area.width + (part.x + dx - area.x); }
};

// alpha *= mask; true if anything but 0 was found.
base::Result<bool> copyMask(const TiledImage& mask, int level, const Rect& inside, const Copy& copy) {
  bool any = false;
  const std::size_t step = image::bytesOf(mask.format());
  HSEAM_DO(eachTile(mask.level(level), inside, [&](const image::TilePin& p, const Rect& part) {
    if (p.isUniform()) {
      const float v = image::isWide(mask.format()) ? float(*reinterpret_cast<const std::uint16_t*>(p.value())) * (1 / 65535.f)
                                                   : float(std::to_integer<int>(*p.value())) * (1 / 255.f);
      any |= v > 0;
      if (v == 1) return;
      for (int y = part.y; y < part.bottom(); ++y) {
        float* to = copy.out.alpha() + copy.at(part, y);
        for (int x = 0; x < part.width; ++x) to[x] *= v;
      }
      return;
    }
    for (int y = part.y; y < part.bottom(); ++y) {
      const std::byte* from = rowOf(p, part, y, step);
      any = any || !allZero(from, std::size_t(part.width) * step);
      timesCoverage(mask.format(), from, part.width, copy.out.alpha() + copy.at(part, y));
    }
  }));
  return any;
}

base::Status copyColours(const TiledImage& colours, int level, const Rect& inside, const Copy& copy) {
  const std::size_t step = image::bytesOf(colours.format());
  return eachTile(colours.level(level), inside, [&](const image::TilePin& p, const Rect& part) {
    std::vector<std::byte> line;
    if (p.isUniform()) {
      for (int x = 0; x < part.width; ++x) line.insert(line.end(), p.value(), p.value() + step);
    }
    for (int y = part.y; y < part.bottom(); ++y) {
      const std::byte* from = p.isUniform() ? line.data() : rowOf(p, part, y, step);
      unpackColours(colours.format(), from, part.width, runOf(copy.out, copy.at(part, y)));
    }
  });
}

base::Result<bool> copySampled(const Sampled& what, int level, const Affine& m, const Rect& area, Planes& out) {
  const Copy copy{area, int(std::lround(m.e)), int(std::lround(m.f)), out};
  const TiledImage& any = what.colours ? *what.colours : *what.mask;
  const Rect inside = Rect{area.x - copy.dx, area.y - copy.dy, area.width, area.height}.intersected(Rect::of(any.level(level).size));
  if (inside.empty()) return false;
  if (inside.width != area.width || inside.height != area.height) out.clear();
  for (int y = inside.y; y < inside.bottom(); ++y) std::fill_n(out.alpha() + copy.at(inside, y), inside.width, 1.f);
  if (what.mask) {
    HSEAM_TRY(const bool shows, copyMask(*what.mask, level, inside, copy));
    if (!shows) return false;
  }
  if (what.colours) HSEAM_DO(copyColours(*what.colours, level, inside, copy));
  return true;
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
  // Weights add up to 1 but for rounding; what is covered fully must be so to the bit.
  const float a = s.v[3] > 0.99999f ? 1.f : std::max(s.v[3], 0.f);
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

base::Result<bool> samplePicture(const Sampled& what, const Rect& area, Planes& out) {
  const TiledImage& any = what.colours ? *what.colours : *what.mask;
  const auto toSource = what.toOutput.inverse();
  if (!toSource) return false;
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
  if (wanted.grown(2).intersected(picture).empty()) return false;
  HSEAM_TRY(const Raster<float> window, windowOf(what, level, wanted));
  const bool straight = toSource->b == 0 && toSource->c == 0;
  (straight ? resampleStraight : resampleTurned)(g, area, wanted, window, out);
  return true;
}

base::Status sampleCoverage(const TiledImage& mask, const Affine& toOutput, const Rect& area, float* out) {
  Planes planes(area.width * area.height);
  HSEAM_TRY(const bool any, samplePicture({nullptr, &mask, toOutput}, area, planes));
  if (any) {
    std::copy_n(planes.alpha(), planes.count(), out);
  } else {
    std::fill_n(out, planes.count(), 0.f);
  }
  return {};
}

}  // namespace hseam::render
