#include "core/scene/mask_cover.h"

#include <algorithm>

#include "core/path/cover.h"

namespace hseam::scene {
namespace {

using image::TiledImage;
using image::TileRef;

bool is(const TileRef& tile, int value) {
  return tile->uniform() && std::to_integer<int>((*tile->uniform())[0]) == value;
}

// Most tiles are all or nothing in one of the two: they are shared, not multiplied.
base::Result<TileRef> timesCoverage(const TileRef& a, const TileRef& b, image::TileMemory& memory) {
  if (is(a, 0) || is(b, 255)) return a;
  if (is(b, 0) || is(a, 255)) return b;
  HSEAM_TRY(const image::TilePin p, image::pin(a));
  HSEAM_TRY(const image::TilePin q, image::pin(b));
  image::Bytes bytes(image::kTilePixels);
  for (std::size_t i = 0; i < bytes.size(); ++i) {
    const unsigned x = std::to_integer<unsigned>(p.isUniform() ? *p.value() : p.data()[i]),
                   y = std::to_integer<unsigned>(q.isUniform() ? *q.value() : q.data()[i]);
    bytes[i] = std::byte((x * y + 127) / 255);
  }
  return memory.adopt(image::PixelFormat::grey8, std::move(bytes));
}

base::Result<TiledImage> product(const TiledImage& a, const TiledImage& b, const std::shared_ptr<image::TileMemory>& memory) {
  std::vector<TiledImage::Level> levels;
  for (int n = 0; n < a.levelCount(); ++n) {
    TiledImage::Level level = a.level(n);
    for (int row = 0; row < level.rows; ++row) {
      auto refs = std::make_shared<std::vector<TileRef>>();
      for (int column = 0; column < level.columns; ++column) {
        HSEAM_TRY(TileRef tile, timesCoverage(a.level(n).tile(column, row), b.level(n).tile(column, row), *memory));
        refs->push_back(std::move(tile));
      }
      level.rowRefs[std::size_t(row)] = std::move(refs);
    }
    levels.push_back(std::move(level));
  }
  return TiledImage::fromLevels(image::PixelFormat::grey8, std::move(levels), memory);
}

}  // namespace

base::Result<Mask> boundedMask(Mask mask, const TiledImage& byHand, bool acts, base::Size size,
                               const std::shared_ptr<image::TileMemory>& memory) {
  mask.pathActs = acts && mask.path && !mask.path->empty();
  mask.painted = mask.pathActs ? byHand : TiledImage();
  mask.coverage = byHand;
  if (!mask.pathActs) return mask;
  if (mask.pathArea.isNull()) {
    base::InlineExecutor here;
    HSEAM_TRY(mask.pathArea, path::coverage(*mask.path, size, memory, here));
  }
  mask.coverage = mask.pathArea;
  if (byHand.isNull()) return mask;
  if (byHand.size() != size || byHand.format() != image::PixelFormat::grey8)
    return base::Error{base::Code::invalid, "", "only an 8-bit mask of the layer's size goes together with a path"};
  HSEAM_TRY(mask.coverage, product(byHand, mask.pathArea, memory));
  return mask;
}

}  // namespace hseam::scene
