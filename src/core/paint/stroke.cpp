#include "core/paint/stroke.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/paint/sweep.h"

namespace hseam::paint {
namespace {

using base::Rect;

// (old · (255 − t) + value · t) / 255, rounded to the nearest.
std::uint8_t mixed(unsigned old, unsigned value, unsigned t) {
  const unsigned n = old * (255 - t) + value * t + 128;
  return std::uint8_t((n + (n >> 8)) >> 8);
}

struct Span {
  int from, to;
};

// The part of a span outside which all is 255.
Span notFull(const std::uint8_t* row, Span s) {
  constexpr std::uint64_t kFull = ~std::uint64_t(0);
  const auto eight = [&](int at) {
    std::uint64_t w = 0;
    std::memcpy(&w, row + at, 8);
    return w;
  };
  while (s.from + 8 <= s.to && eight(s.from) == kFull) s.from += 8;
  while (s.from < s.to && row[s.from] == 255) ++s.from;
  while (s.to - 8 >= s.from && eight(s.to - 8) == kFull) s.to -= 8;
  while (s.to > s.from && row[s.to - 1] == 255) --s.to;
  return s;
}

}  // namespace

double tipProfile(double distance, double radius, double hardness) {
  const auto [inner, outer] = tipRadii(radius, hardness);
  if (distance <= inner) return 1;
  if (distance >= outer) return 0;
  const double t = (outer - distance) / (outer - inner);
  return t * t * (3 - 2 * t);
}

Stroke::Stroke(image::TiledImage before, Tip tip, Pressure pressure, std::uint8_t value, bool flat)
    : before_(std::move(before)), now_(before_), tip_(tip), pressure_(pressure), value_(value), flat_(flat) {}

base::Result<Rect> Stroke::to(std::span<const Sample> samples, base::Executor& executor) {
  const auto end = [&](const Sample& s) {
    return Sweep::End{s.at, std::max(0.5, tip_.sizePx / 2 * (pressure_ == Pressure::size ? s.pressure : 1)),
                      tip_.strength * (pressure_ == Pressure::strength ? s.pressure : 1)};
  };
  image::ImageEditor editor(now_);
  Rect changed;
  for (const Sample& sample : samples) {
    const Sweep sweep(end(down_ ? last_ : sample), end(sample), flat_ ? 1.0 : tip_.hardness);
    down_ = true;
    last_ = sample;
    const Rect area = sweep.bounds().intersected(Rect::of(before_.size()));
    constexpr int kSide = image::kTileSide;
    bool any = false;
    for (int row = area.y / kSide; row * kSide < area.bottom(); ++row) {
      for (int column = area.x / kSide; column * kSide < area.right(); ++column) {
        HSEAM_TRY(const bool touched, touchTile(editor, column, row, area, sweep));
        any |= touched;
      }
    }
    if (any) changed = changed.united(area);
  }
  if (changed.empty()) return changed;
  HSEAM_TRY(now_, std::move(editor).commit(executor));
  return changed;
}

// True if a pixel of the tile took a stronger touch than before.
base::Result<bool> Stroke::touchTile(image::ImageEditor& editor, int column, int row, const Rect& area, const Sweep& sweep) {
  constexpr int kSide = image::kTileSide;
  const Rect part = Rect{column * kSide, row * kSide, kSide, kSide}.intersected(area);
  Touched& touched = touched_[{column, row}];
  if (touched.full) return false;
  if (touched.strongest.empty()) touched.strongest.resize(image::kTilePixels);
  std::uint8_t coverage[kSide + Sweep::kSpare];
  std::uint8_t old[kSide];
  std::byte* painted = nullptr;
  std::optional<image::TilePin> before;
  for (int y = part.y; y < part.bottom(); ++y) {
    // Of a row, only what the tip reaches and what is not covered fully yet.
    const std::size_t start = std::size_t(y - row * kSide) * kSide;
    const auto [from, to] = sweep.reach(y);
    const int left = std::max(part.x, from) - column * kSide, right = std::min(part.right(), to) - column * kSide;
    const Span open = notFull(touched.strongest.data() + start, {left, right});
    if (open.from >= open.to) continue;
    const std::size_t line = start + std::size_t(open.from), width = std::size_t(open.to - open.from);
    std::uint8_t* t = touched.strongest.data() + line;
    sweep.row(column * kSide + open.from, y, int(width), coverage);
    std::uint8_t stronger = 0;
    for (std::size_t x = 0; x < width; ++x) stronger = std::uint8_t(stronger | std::uint8_t(coverage[x] > t[x]));
    if (!stronger) continue;
    if (!painted) {
      HSEAM_TRY(before, image::pin(before_.level(0).tile(column, row)));
      HSEAM_TRY(painted, editor.tile(column, row));
    }
    if (before->isUniform()) {
      std::memset(old, std::to_integer<int>(*before->value()), width);
    } else {
      std::memcpy(old, before->data() + line, width);
    }
    auto* out = reinterpret_cast<std::uint8_t*>(painted) + line;
    for (std::size_t x = 0; x < width; ++x) t[x] = std::max(t[x], coverage[x]);
    if (flat_) {
      for (std::size_t x = 0; x < width; ++x) out[x] = t[x] >= 128 ? value_ : old[x];
    } else {
      for (std::size_t x = 0; x < width; ++x) out[x] = mixed(old[x], value_, t[x]);
    }
  }
  const auto& all = touched.strongest;
  touched.full = painted && all[0] == 255 && std::memcmp(all.data(), all.data() + 1, all.size() - 1) == 0;
  return painted != nullptr;
}

image::TiledImage filled(const image::TiledImage& coverage, std::uint8_t value) {
  return image::uniformCoverage(coverage.size(), value, coverage.memory());
}

}  // namespace hseam::paint
