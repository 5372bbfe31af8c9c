#pragma once
// Writes the tiles of pictures that a project does not hold yet, within one transaction.

#include "core/base/executor.h"
#include "core/image/tiled_image.h"
#include "core/store/tile_reader.h"

namespace hseam::store {

/// One thread at a time, inside an open transaction of `database`. What it wrote counts only after committed().
class TileWriter {
 public:
  TileWriter(Database& database, std::shared_ptr<TileReader> reader, base::Executor& executor)
      : database_(database), reader_(std::move(reader)), executor_(executor) {}
  /// Every tile of the picture and its levels that the file does not hold: packed, in items of about 100 KiB, coarse levels
  /// together, so that a stroke is one row and a view at fit reads few. Errors: what pinning and the database say.
  base::Status write(const image::TiledImage& image);
  /// The same, and the picture's manifest as an item of its own, whose number it returns.
  base::Result<std::int64_t> writeWithManifest(const image::TiledImage& image);
  /// The transaction is on the disk: the tiles may leave memory. leave: tiles keep the backing they have (a copy is made).
  void committed(bool leave);
  bool wroteAny() const { return !written_.empty(); }

 private:
  base::Status flush();
  TilePlace placeOf(const image::ContentHash& hash) const;
  Database& database_;
  std::shared_ptr<TileReader> reader_;
  base::Executor& executor_;
  std::vector<std::byte> pending_;  // the item that is being filled
  std::vector<std::pair<image::ContentHash, TilePlace>> inPending_;
  TilePlaces places_;
  std::vector<image::TileRef> written_;
};

/// A row of the table item. Returns its number. Errors: what the database says.
base::Result<std::int64_t> insertItem(Database& database, std::span<const std::byte> data);

}  // namespace hseam::store
