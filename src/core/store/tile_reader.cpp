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
  HSEAM_TRY(Statement select, database.prepare("SELECT data FROM tile WHERE hash = ?"));
  return std::make_unique<Connection>(Connection{std::move(database), std::move(select)});
}

base::Result<image::Bytes> TileReader::read(const image::ContentHash& hash, std::size_t expectedBytes) {
  HSEAM_TRY(auto connection, take());
  const std::string key = hexOf(hash);
  connection->select.bind(1, key);
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
