#pragma once
// A pool of read-only connections to one project. If the project moves, later reads use its new place.

#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "core/store/sqlite.h"

namespace hseam::store {

/// Any thread.
class ReadPool {
 public:
  struct Connection {
    Database database;
    std::uint64_t place;  // which move it was opened after
    std::optional<Statement> tile, item, step;
  };

  ReadPool(std::string path, Database::Mode mode) : path_(std::move(path)), mode_(mode) {}
  /// The project has another name from now on. Reads that are under way end on the old file.
  void moveTo(std::string path);
  /// Closes the idle connections, so that the file can be checkpointed and closed. Later reads open new ones.
  void rest();
  std::string path() const;

  base::Result<std::unique_ptr<Connection>> take();
  void giveBack(std::unique_ptr<Connection> connection);

 private:
  mutable std::mutex mutex_;
  std::string path_;
  Database::Mode mode_;
  std::uint64_t place_ = 0;
  std::vector<std::unique_ptr<Connection>> idle_;
};

/// A row of the table item. Errors: corrupt (there is none), what the database says.
base::Result<std::vector<std::byte>> readItem(ReadPool& pool, std::int64_t item);

}  // namespace hseam::store
