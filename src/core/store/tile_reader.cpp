#include "core/store/tile_reader.h"

#include "core/store/tile_codec.h"

namespace hseam::store {

base::Result<std::unique_ptr<TileReader::Connection>> TileReader::take() {
  {
    const std::lock_guard lock(mutex_);
    if (!idle_.empty()) {
      auto connection = std::move(idle_.back());
      idle_.pop_back();
      return connection;
    }
  }
  HSEAM_TRY(Database database, Database::open(path_, mode_));
  HSEAM_TRY(Statement select, database.prepare("SELECT substr(data, ?2 + 1, ?3) FROM item WHERE id = ?1"));
  return std::make_unique<Connection>(Connection{std::move(database), std::move(select)});
}

std::optional<TilePlace> TileReader::placeOf(const image::ContentHash& hash) const {
  const std::lock_guard lock(mutex_);
  const auto found = places_.find(hash);
  return found == places_.end() ? std::nullopt : std::optional(found->second);
}

void TileReader::add(const TilePlaces& places) {
  const std::lock_guard lock(mutex_);
  places_.insert(places.begin(), places.end());
}

base::Result<image::Bytes> TileReader::read(const image::ContentHash& hash, std::size_t expectedBytes) {
  const auto place = placeOf(hash);
  if (!place) return base::Error{base::Code::corrupt, path_, "a tile is missing from the project"};
  HSEAM_TRY(auto connection, take());
  connection->select.bind(1, place->item).bind(2, std::int64_t(place->offset)).bind(3, std::int64_t(place->bytes));
  HSEAM_TRY(const bool found, connection->select.step());
  const std::vector<std::byte> packed = found ? connection->select.blob(0) : std::vector<std::byte>();
  connection->select.reset();
  {
    const std::lock_guard lock(mutex_);
    idle_.push_back(std::move(connection));
  }
  if (!found) return base::Error{base::Code::corrupt, path_, "a tile is missing from the project"};
  auto bytes = unpackTile(packed, expectedBytes, expectedBytes / image::kTilePixels);
  if (!bytes.ok()) return base::Error{bytes.error().code, path_, bytes.error().detail};
  return bytes;
}

void TileReader::rest() {
  const std::lock_guard lock(mutex_);
  idle_.clear();
}

}  // namespace hseam::store
