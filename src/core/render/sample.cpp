#include "core/render/sample.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "core/render/resample.h"
#include "core/render/rows.h"

namespace hseam::render {
namespace {

using base::Affine;
using base::Rect;
using image::TiledImage;

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

// Nothing of it can be more than 0.
base::Result<bool> hides(const TiledImage& mask, int level, const Rect& inside) {
  bool all = true;
  const std::size_t step = image::bytesOf(mask.format());
  HSEAM_DO(eachTile(mask.level(level), inside, [&](const image::TilePin& p, const Rect&) {
    all = all && p.isUniform() && std::all_of(p.value(), p.value() + step, [](std::byte b) { return b == std::byte{0}; });
  }));
  return all;
}

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
  const Rect inside =
      Rect{area.x - copy.dx, area.y - copy.dy, area.width, area.height}.intersected(Rect::of(any.level(level).size));
  if (inside.empty()) return false;
  if (what.mask) {
    HSEAM_TRY(const bool nothing, hides(*what.mask, level, inside));
    if (nothing) return false;
  }
  if (inside.width != area.width || inside.height != area.height) out.clear();
  for (int y = inside.y; y < inside.bottom(); ++y) std::fill_n(out.alpha() + copy.at(inside, y), inside.width, 1.f);
  if (what.mask) {
    HSEAM_TRY(const bool shows, copyMask(*what.mask, level, inside, copy));
    if (!shows) return false;
  }
  if (what.colours) HSEAM_DO(copyColours(*what.colours, level, inside, copy));
  return true;
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

  return resampled(what, *toSource, level, area, out);
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
