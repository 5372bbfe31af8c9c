#include "core/store/thumbnails.h"

#include <zstd.h>

#include <array>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "core/image/preview.h"
#include "core/image/tile.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using Picture = image::Raster<std::uint8_t>;

constexpr std::size_t kHeadBytes = 65536;  // metadata, a camera's preview and the first rows lie there
constexpr int kPacking = 1;

// Size, time of change and beginning of the file, and the wanted size: what changes only the middle of a file is told by the
// time. Empty: it cannot be read.
std::string keyOf(const std::string& path, int longest) {
  std::error_code problem;
  const auto size = fs::file_size(path, problem);
  const auto time = fs::last_write_time(path, problem);
  std::ifstream file(path, std::ios::binary);
  if (problem || !file) return {};
  std::vector<std::byte> head(kHeadBytes);
  file.read(reinterpret_cast<char*>(head.data()), std::streamsize(head.size()));
  head.resize(std::size_t(file.gcount()));
  const image::ContentHash h = image::hashOf(head);
  return std::to_string(h.high) + "-" + std::to_string(h.low) + "-" + std::to_string(size) + "-" +
         std::to_string(time.time_since_epoch().count()) + "-" + std::to_string(longest);
}

}  // namespace

Thumbnails::Thumbnails(const std::string& folder) {
  std::error_code problem;
  fs::create_directories(folder, problem);
  const std::string path = (fs::path(folder) / "thumbnails.sqlite").string();
  for (int attempt = 0; attempt < 2 && !database_ && !problem; ++attempt) {
    if (attempt > 0) fs::remove(path, problem);
    auto opened = Database::open(path, fs::exists(path) ? Database::Mode::readWrite : Database::Mode::create);
    if (!opened.ok()) continue;
    // Nothing here is worth waiting for the disk.
    if (opened
            ->execute(
                "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF;"
                "CREATE TABLE IF NOT EXISTS thumbnail(key TEXT PRIMARY KEY, width INT, height INT, channels INT, pixels BLOB)")
            .ok())
      database_ = std::move(*opened);
  }
}

std::optional<Picture> Thumbnails::find(const std::string& key) {
  const std::lock_guard lock(mutex_);
  if (!database_ || key.empty()) return std::nullopt;
  auto statement = database_->prepare("SELECT width, height, channels, pixels FROM thumbnail WHERE key=?");
  if (!statement.ok()) return std::nullopt;
  statement->bind(1, key);
  const auto row = statement->step();
  if (!row.ok() || !*row) return std::nullopt;
  const int width = int(statement->number(0)), height = int(statement->number(1)), channels = int(statement->number(2));
  const auto packed = statement->blob(3);
  if (width < 1 || height < 1 || width > 4096 || height > 4096 || channels < 3 || channels > 4) return std::nullopt;
  Picture picture(width, height, channels);
  const std::size_t size = ZSTD_decompress(picture.samples().data(), picture.samples().size(), packed.data(), packed.size());
  return size == picture.samples().size() ? std::optional(std::move(picture)) : std::nullopt;
}

void Thumbnails::keep(const std::string& key, const Picture& picture) {
  std::vector<std::byte> packed(ZSTD_compressBound(picture.samples().size()));
  const std::size_t size =
      ZSTD_compress(packed.data(), packed.size(), picture.samples().data(), picture.samples().size(), kPacking);
  if (ZSTD_isError(size)) return;
  packed.resize(size);
  const std::lock_guard lock(mutex_);
  if (!database_ || key.empty()) return;
  auto statement = database_->prepare("INSERT OR REPLACE INTO thumbnail VALUES(?,?,?,?,?)");
  if (!statement.ok()) return;
  statement->bind(1, key).bind(2, std::int64_t(picture.width())).bind(3, std::int64_t(picture.height()));
  statement->bind(4, std::int64_t(picture.channels())).bind(5, std::span<const std::byte>(packed));
  (void)statement->step();
}

base::Result<Picture> Thumbnails::of(const std::string& path, int longest) try {
  const std::string key = keyOf(path, longest);
  if (auto found = find(key)) return std::move(*found);
  HSEAM_TRY(Picture made, image::preview(path, longest));
  keep(key, made);
  return made;
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::store
