#include "core/store/tile_writer.h"

#include <set>

#include "core/store/tile_codec.h"

namespace hseam::store {
namespace {

constexpr std::size_t kFullItem = 96 * 1024;
constexpr std::size_t kBatch = 64;  // tiles packed at once, so that packed bytes never pile up

}  // namespace

base::Result<std::int64_t> insertItem(Database& database, std::span<const std::byte> data) {
  HSEAM_TRY(Statement s, database.prepare("INSERT INTO item (data) VALUES (?)"));
  HSEAM_DO(s.bind(1, data).run());
  return database.lastRow();
}

base::Status TileWriter::write(const image::TiledImage& image) {
  std::vector<image::TileRef> missing;
  std::set<image::TileRef> seen;
  for (int n = image.levelCount(); n-- > 0;) {
    const auto& level = image.level(n);
    for (int row = 0; row < level.rows; ++row) {
      for (int column = 0; column < level.columns; ++column) {
        const image::TileRef& t = level.tile(column, row);
        if (!t->uniform() && t->backing() != reader_ && seen.insert(t).second) missing.push_back(t);
      }
    }
  }
  for (std::size_t from = 0; from < missing.size(); from += kBatch) {
    const std::size_t count = std::min(kBatch, missing.size() - from);
    std::vector<std::vector<std::byte>> packed(count);
    std::vector<std::optional<base::Error>> errors(count);
    executor_.forEach(int(count), [&](int i) {
      const image::TileRef& t = missing[from + std::size_t(i)];
      if (reader_->placeOf(t->hash())) return;  // the same pixels are there already
      auto p = image::pin(t);
      if (!p.ok()) {
        errors[std::size_t(i)] = p.error();
        return;
      }
      const std::size_t step = image::bytesOf(t->format());
      packed[std::size_t(i)] = packTile({p->data(), image::kTilePixels * step}, step);
    });
    for (std::size_t i = 0; i < count; ++i) {
      if (errors[i]) return *errors[i];
      const image::TileRef& t = missing[from + i];
      written_.push_back(t);
      const image::ContentHash hash = t->hash();
      if (packed[i].empty() || places_.contains(hash)) continue;
      const TilePlace place{0, std::uint32_t(pending_.size()), std::uint32_t(packed[i].size())};
      places_[hash] = place;
      inPending_.emplace_back(hash, place);
      pending_.insert(pending_.end(), packed[i].begin(), packed[i].end());
      if (pending_.size() >= kFullItem) HSEAM_DO(flush());
    }
  }
  return flush();
}

base::Result<std::int64_t> TileWriter::writeWithManifest(const image::TiledImage& image) {
  HSEAM_DO(write(image));
  return insertItem(database_, packManifest(image, [&](const image::ContentHash& h) { return placeOf(h); }));
}

base::Status TileWriter::flush() {
  if (pending_.empty()) return {};
  HSEAM_TRY(const std::int64_t item, insertItem(database_, pending_));
  for (const auto& [hash, place] : inPending_) places_[hash].item = item;
  pending_.clear();
  inPending_.clear();
  return {};
}

TilePlace TileWriter::placeOf(const image::ContentHash& hash) const {
  if (const auto found = places_.find(hash); found != places_.end()) return found->second;
  const auto known = reader_->placeOf(hash);
  CORE_CHECK(known.has_value());
  return *known;
}

void TileWriter::committed(bool leave) {
  reader_->add(places_);
  if (!leave) {
    for (const image::TileRef& t : written_) t->setBacking(reader_);
  }
}

}  // namespace hseam::store
