#include "core/store/read_pool.h"

namespace hseam::store {

void ReadPool::moveTo(std::string path) {
  const std::lock_guard lock(mutex_);
  path_ = std::move(path);
  ++place_;
  idle_.clear();
}

void ReadPool::rest() {
  const std::lock_guard lock(mutex_);
  idle_.clear();
}

std::string ReadPool::path() const {
  const std::lock_guard lock(mutex_);
  return path_;
}

base::Result<std::unique_ptr<ReadPool::Connection>> ReadPool::take() {
  while (true) {
    std::string path;
    std::uint64_t place = 0;
    {
      const std::lock_guard lock(mutex_);
      if (!idle_.empty()) {
        auto connection = std::move(idle_.back());
        idle_.pop_back();
        return connection;
      }
      path = path_;
      place = place_;
    }
    auto database = Database::open(path, mode_);
    {
      const std::lock_guard lock(mutex_);
      if (place != place_) continue;  // it moved meanwhile
    }
    if (!database.ok()) return database.error();
    return std::make_unique<Connection>(Connection{std::move(database).value(), place, {}, {}, {}});
  }
}

void ReadPool::giveBack(std::unique_ptr<Connection> connection) {
  const std::lock_guard lock(mutex_);
  if (connection->place == place_) idle_.push_back(std::move(connection));
}

base::Result<std::vector<std::byte>> readItem(ReadPool& pool, std::int64_t item) {
  HSEAM_TRY(auto connection, pool.take());
  if (!connection->item) {
    HSEAM_TRY(connection->item, connection->database.prepare("SELECT data FROM item WHERE id = ?"));
  }
  Statement& select = *connection->item;
  HSEAM_TRY(const bool found, select.bind(1, item).step());
  std::vector<std::byte> data = found ? select.blob(0) : std::vector<std::byte>();
  select.reset();
  pool.giveBack(std::move(connection));
  if (!found) return base::Error{base::Code::corrupt, pool.path(), "a layer or picture is missing from the project"};
  return data;
}

}  // namespace hseam::store
