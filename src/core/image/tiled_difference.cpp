// Where two pictures differ, and whether one is the same all over.

#include "core/image/tiled_image.h"

#include <algorithm>
#include <cstring>

namespace hseam::image {
namespace {

using Level = TiledImage::Level;

// A tile's rows as bytes, whether it has any or is one value.
class Rows {
 public:
  Rows(const TilePin& pin, std::size_t step) : pin_(pin), bytes_(kTileSide * step) {
    if (!pin.isUniform()) return;
    line_.resize(bytes_);
    for (std::size_t i = 0; i < bytes_; i += step) std::memcpy(line_.data() + i, pin.value(), step);
  }
  const std::byte* row(int y) const { return pin_.isUniform() ? line_.data() : pin_.data() + std::size_t(y) * bytes_; }
  std::size_t bytes() const { return bytes_; }

 private:
  const TilePin& pin_;
  std::size_t bytes_;
  Bytes line_;
};

// Where two tiles of one format differ. Tiles that would have to be fetched count as different all over: comparing is for
// the window's thread, which does not wait for a disk.
base::Rect differenceWithin(const TileRef& a, const TileRef& b) {
  const base::Rect whole{0, 0, kTileSide, kTileSide};
  const auto here = [](const TileRef& t) { return t->uniform() || t->resident(); };
  if (!here(a) || !here(b)) return whole;
  const auto pa = pin(a), pb = pin(b);
  if (!pa.ok() || !pb.ok()) return whole;
  const std::size_t step = bytesOf(a->format());
  const Rows ra(*pa, step), rb(*pb, step);
  int top = kTileSide, bottom = 0, left = kTileSide, right = 0;
  for (int y = 0; y < kTileSide; ++y) {
    const std::byte *la = ra.row(y), *lb = rb.row(y);
    if (std::memcmp(la, lb, ra.bytes()) == 0) continue;
    top = std::min(top, y);
    bottom = y + 1;
    const auto first = std::size_t(std::mismatch(la, la + ra.bytes(), lb).first - la);
    std::size_t last = ra.bytes();
    while (la[last - 1] == lb[last - 1]) --last;
    left = std::min(left, int(first / step));
    right = std::max(right, int((last - 1) / step) + 1);
  }
  return bottom == 0 ? base::Rect{} : base::Rect{left, top, right - left, bottom - top};
}

}  // namespace

bool isUniformIn(const TiledImage& image, const base::Rect& area, std::uint8_t value) {
  const base::Rect inside = area.intersected(base::Rect::of(image.size()));
  const auto isValue = [&](const TileRef& t) {
    const std::size_t bytes = bytesOf(image.format());
    return t->uniform() && std::all_of(t->uniform()->begin(), t->uniform()->begin() + long(bytes),
                                       [&](std::byte b) { return std::to_integer<std::uint8_t>(b) == value; });
  };
  const Level& level = image.level(0);
  for (int row = inside.y / kTileSide; row * kTileSide < inside.bottom(); ++row) {
    for (int column = inside.x / kTileSide; column * kTileSide < inside.right(); ++column) {
      if (!isValue(level.tile(column, row))) return false;
    }
  }
  return true;
}

std::vector<base::Rect> differencesOf(const TiledImage& a, const TiledImage& b) {
  if (a.isNull() && b.isNull()) return {};
  if (a.isNull() || b.isNull()) return {base::Rect::of(a.isNull() ? b.size() : a.size())};
  if (a.stamp() == b.stamp()) return {};
  if (a.size() != b.size() || a.format() != b.format()) return {base::Rect::of(a.size()).united(base::Rect::of(b.size()))};
  std::vector<base::Rect> changed;
  const Level &la = a.level(0), &lb = b.level(0);
  for (int row = 0; row < la.rows; ++row) {
    if (la.rowRefs[std::size_t(row)] == lb.rowRefs[std::size_t(row)]) continue;
    for (int column = 0; column < la.columns; ++column) {
      if (la.tile(column, row) == lb.tile(column, row)) continue;
      base::Rect within = differenceWithin(la.tile(column, row), lb.tile(column, row));
      within.x += column * kTileSide;
      within.y += row * kTileSide;
      within = within.intersected(base::Rect::of(a.size()));
      if (!within.empty()) changed.push_back(within);
    }
  }
  return changed;
}

base::Rect differenceOf(const TiledImage& a, const TiledImage& b) {
  base::Rect all;
  for (const base::Rect& r : differencesOf(a, b)) all = all.united(r);
  return all;
}

}  // namespace hseam::image
