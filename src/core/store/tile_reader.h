#pragma once
// Where the tiles of a project lie, and how they are read back.

#include <map>
#include <mutex>
#include <optional>
#include <vector>

#include "core/image/tile.h"
#include "core/store/sqlite.h"

namespace hseam::store {

/// A packed tile: `bytes` from `offset` on in the item `item`. Many small tiles share one item, so that a stroke is one row.
struct TilePlace {
  std::int64_t item = 0;
  std::uint32_t offset = 0, bytes = 0;
};
using TilePlaces = std::map<image::ContentHash, TilePlace>;

/// Reads tiles back through as many read-only connections as are asked for at once. Any thread.
class TileReader final : public image::TileBacking {
 public:
  explicit TileReader(std::string path, Database::Mode mode = Database::Mode::readOnly) : path_(std::move(path)), mode_(mode) {}
  /// Errors: corrupt (no place is known, or what lies there is damaged), what the database says.
  base::Result<image::Bytes> read(const image::ContentHash& hash, std::size_t expectedBytes) override;
  std::optional<TilePlace> placeOf(const image::ContentHash& hash) const;
  /// From now on these can be read.
  void add(const TilePlaces& places);
  /// Closes the idle connections, so that the file can be checkpointed and closed. Later reads open new ones.
  void rest();

 private:
  struct Connection {
    Database database;
    Statement select;
  };
  base::Result<std::unique_ptr<Connection>> take();

  std::string path_;
  Database::Mode mode_;
  mutable std::mutex mutex_;
  std::vector<std::unique_ptr<Connection>> idle_;
  TilePlaces places_;
};

}  // namespace hseam::store
