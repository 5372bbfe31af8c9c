#pragma once
// Locates and reads the tiles of a project.

#include <map>
#include <mutex>
#include <optional>

#include "core/image/tile.h"
#include "core/store/read_pool.h"

namespace hseam::store {

/// A packed tile: `bytes` from `offset` on in the item `item`. Many small tiles share one item, so that a stroke is one row.
struct TilePlace {
  std::int64_t item = 0;
  std::uint32_t offset = 0, bytes = 0;
};
using TilePlaces = std::map<image::ContentHash, TilePlace>;

/// Any thread.
class TileReader final : public image::TileBacking, public std::enable_shared_from_this<TileReader> {
 public:
  explicit TileReader(std::shared_ptr<ReadPool> pool) : pool_(std::move(pool)) {}
  /// Errors: corrupt (no place is known, or what lies there is damaged), what the database says.
  base::Result<image::Bytes> read(const image::ContentHash& hash, std::size_t expectedBytes) override;
  std::optional<TilePlace> placeOf(const image::ContentHash& hash) const;
  /// Adds places of tiles.
  void add(const TilePlaces& places);
  /// The tile of these pixels, which lie at `place`: the same object for as long as somebody holds it, so that versions of a
  /// picture share what they have in common also when they are read back.
  image::TileRef tile(image::PixelFormat format, const image::ContentHash& hash, const TilePlace& place,
                      const std::shared_ptr<image::TileMemory>& memory);

 private:
  struct Known {
    TilePlace place;
    std::weak_ptr<const image::Tile> tile;
  };
  std::shared_ptr<ReadPool> pool_;
  mutable std::mutex mutex_;
  std::map<image::ContentHash, Known> known_;
};

}  // namespace hseam::store
