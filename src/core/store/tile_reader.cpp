#include "core/store/tile_reader.h"

#include "core/store/tile_codec.h"

namespace hseam::store {

std::optional<TilePlace> TileReader::placeOf(const image::ContentHash& hash) const {
  const std::lock_guard lock(mutex_);
  const auto found = known_.find(hash);
  return found == known_.end() ? std::nullopt : std::optional(found->second.place);
}

void TileReader::add(const TilePlaces& places) {
  const std::lock_guard lock(mutex_);
  for (const auto& [hash, place] : places) known_.try_emplace(hash, Known{place, {}});
}

image::TileRef TileReader::tile(image::PixelFormat format, const image::ContentHash& hash, const TilePlace& place,
                                const std::shared_ptr<image::TileMemory>& memory) {
  const std::lock_guard lock(mutex_);
  Known& known = known_.try_emplace(hash, Known{place, {}}).first->second;
  if (image::TileRef tile = known.tile.lock(); tile && tile->format() == format) return tile;
  image::TileRef tile = memory->backed(format, hash, shared_from_this());
  known.tile = tile;
  return tile;
}

base::Result<image::Bytes> TileReader::read(const image::ContentHash& hash, std::size_t expectedBytes) {
  const auto place = placeOf(hash);
  if (!place) return base::Error{base::Code::corrupt, pool_->path(), "a tile is missing from the project"};
  HSEAM_TRY(auto connection, pool_->take());
  if (!connection->tile) {
    HSEAM_TRY(connection->tile, connection->database.prepare("SELECT substr(data, ?2 + 1, ?3) FROM item WHERE id = ?1"));
  }
  Statement& select = *connection->tile;
  select.bind(1, place->item).bind(2, std::int64_t(place->offset)).bind(3, std::int64_t(place->bytes));
  HSEAM_TRY(const bool found, select.step());
  const std::vector<std::byte> packed = found ? select.blob(0) : std::vector<std::byte>();
  select.reset();
  pool_->giveBack(std::move(connection));
  if (!found) return base::Error{base::Code::corrupt, pool_->path(), "a tile is missing from the project"};
  auto bytes = unpackTile(packed, expectedBytes, expectedBytes / image::kTilePixels);
  if (!bytes.ok()) return base::Error{bytes.error().code, pool_->path(), bytes.error().detail};
  return bytes;
}

}  // namespace hseam::store
