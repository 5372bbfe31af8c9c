#pragma once

#include <mutex>
#include <vector>

#include "core/image/tile.h"
#include "core/store/sqlite.h"

namespace hseam::store {

/// Reads tiles back through as many read-only connections as are asked for at once. Any thread.
class TileReader final : public image::TileBacking {
 public:
  explicit TileReader(std::string path, Database::Mode mode = Database::Mode::readOnly) : path_(std::move(path)), mode_(mode) {}
  base::Result<image::Bytes> read(const image::ContentHash& hash, std::size_t expectedBytes) override;
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
  std::mutex mutex_;
  std::vector<std::unique_ptr<Connection>> idle_;
};

}  // namespace hseam::store
