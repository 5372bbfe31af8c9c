#include "core/image/tile.h"

#include <xxhash.h>

#include <algorithm>
#include <cstring>
#include <new>

namespace hseam::image {

ContentHash hashOf(std::span<const std::byte> bytes) {
  const XXH128_hash_t h = XXH3_128bits(bytes.data(), bytes.size());
  return {h.high64, h.low64};
}

ContentHash Tile::hash() const {
  const std::lock_guard lock(mutex_);
  if (!hash_) hash_ = uniform_ ? hashOf({uniform_->data(), bytesOf(format_)}) : hashOf(*bytes_);
  return *hash_;
}

std::shared_ptr<TileBacking> Tile::backing() const {
  const std::lock_guard lock(mutex_);
  return backing_;
}

bool Tile::resident() const {
  const std::lock_guard lock(mutex_);
  return bytes_ != nullptr;
}

void Tile::setBacking(std::shared_ptr<TileBacking> backing) const {
  const std::lock_guard lock(mutex_);
  backing_ = std::move(backing);
}

Tile::~Tile() {
  if (!memory_ || !bytes_) return;
  memory_->resident_ -= bytes_->size();
  --memory_->residentTiles_;
}

base::Result<TilePin> pin(const TileRef& tile) try {
  TilePin p;
  p.format_ = tile->format_;
  if (tile->uniform_) {
    p.value_ = *tile->uniform_;
    return p;
  }
  tile->lastUse_.store(tile->memory_->clock_.fetch_add(1, std::memory_order_relaxed), std::memory_order_relaxed);
  std::shared_ptr<TileBacking> backing;
  {
    const std::lock_guard lock(tile->mutex_);
    p.bytes_ = tile->bytes_;
    if (p.bytes_) return p;
    backing = tile->backing_;
  }
  // Nobody waits on the tile while the disk is read; of two that read at once the first one's bytes stay.
  const std::size_t expected = kTilePixels * bytesOf(tile->format_);
  HSEAM_TRY(Bytes read, backing->read(*tile->hash_, expected));
  p.bytes_ = std::make_shared<const Bytes>(std::move(read));
  bool brought = false;
  {
    const std::lock_guard lock(tile->mutex_);
    brought = !tile->bytes_;
    if (brought) tile->bytes_ = p.bytes_;
    p.bytes_ = tile->bytes_;
  }
  if (brought) tile->memory_->noteResident(tile, expected);
  return p;
} catch (...) {
  return base::caught();
}

std::shared_ptr<TileMemory> TileMemory::create(std::size_t budgetBytes) {
  return std::shared_ptr<TileMemory>(new TileMemory(budgetBytes));
}

TileRef TileMemory::adopt(PixelFormat format, Bytes bytes) {
  const std::size_t step = bytesOf(format);
  CORE_CHECK(bytes.size() == kTilePixels * step);
  // All pixels equal the first exactly when the block equals itself moved by one pixel.
  if (std::memcmp(bytes.data(), bytes.data() + step, bytes.size() - step) == 0) return uniform(format, {bytes.data(), step});
  auto tile = std::shared_ptr<Tile>(new Tile);
  tile->format_ = format;
  tile->memory_ = shared_from_this();
  const std::size_t size = bytes.size();
  tile->bytes_ = std::make_shared<const Bytes>(std::move(bytes));
  tile->lastUse_ = clock_.fetch_add(1, std::memory_order_relaxed);
  noteResident(tile, size);
  return tile;
}

TileRef TileMemory::uniform(PixelFormat format, std::span<const std::byte> value) {
  CORE_CHECK(value.size() == bytesOf(format));
  auto tile = std::shared_ptr<Tile>(new Tile);
  tile->format_ = format;
  tile->uniform_.emplace();
  std::copy(value.begin(), value.end(), tile->uniform_->begin());
  return tile;
}

TileRef TileMemory::backed(PixelFormat format, const ContentHash& hash, std::shared_ptr<TileBacking> backing) {
  auto tile = std::shared_ptr<Tile>(new Tile);
  tile->format_ = format;
  tile->memory_ = shared_from_this();
  tile->hash_ = hash;
  tile->backing_ = std::move(backing);
  return tile;
}

void TileMemory::noteResident(const TileRef& tile, std::size_t bytes) {
  const std::size_t now = resident_ += bytes;
  ++residentTiles_;
  {
    const std::lock_guard lock(mutex_);
    residents_.push_back(tile);
    // Tiles that are gone leave their entries behind: they are swept once they are most of the list.
    if (residents_.size() > 1024 + 2 * residentTiles_) std::erase_if(residents_, [](const auto& weak) { return weak.expired(); });
  }
  if (now > evictAbove_) evict();
}

std::size_t TileMemory::listed() const {
  const std::lock_guard lock(mutex_);
  return residents_.size();
}

void TileMemory::trim() {
  if (resident_ > budget_) evict();
}

// Lets go of the longest unused backed tiles until nine tenths of the budget are used, so that not every pin sorts anew.
void TileMemory::evict() {
  const std::lock_guard lock(mutex_);
  std::vector<std::pair<std::uint64_t, TileRef>> live;
  live.reserve(residents_.size());
  for (const auto& weak : residents_) {
    if (TileRef tile = weak.lock(); tile && tile->resident()) {
      const std::uint64_t use = tile->lastUse_.load(std::memory_order_relaxed);
      live.emplace_back(use, std::move(tile));
    }
  }
  std::sort(live.begin(), live.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<std::weak_ptr<const Tile>> stay;
  const std::size_t target = budget_ / 10 * 9;
  for (const auto& [use, tile] : live) {
    const std::lock_guard inner(tile->mutex_);
    if (!tile->bytes_) continue;
    if (resident_ > target && tile->backing_) {
      // The hash must be known before the bytes go: it is the key to bring them back.
      if (!tile->hash_) tile->hash_ = hashOf(*tile->bytes_);
      resident_ -= tile->bytes_->size();
      --residentTiles_;
      tile->bytes_.reset();
    } else {
      stay.push_back(tile);
    }
  }
  residents_ = std::move(stay);
  // With too little backed, the next look is worth while only after a good deal more has come.
  evictAbove_ = std::max(budget_, resident_ + budget_ / 16);
  if (resident_ <= target) evictAbove_ = budget_;
}

}  // namespace hseam::image
