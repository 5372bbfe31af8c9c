#pragma once
// Storage of pixels. A tile is an immutable block of 256 × 256; its bytes may be in memory or only in a project file, and are
// reached through pin() alone. A tile of a single value stores no bytes.

#include <array>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <vector>

#include "core/base/error.h"
#include "core/image/pixel_format.h"

namespace hseam::image {

inline constexpr int kTileSide = 256;
inline constexpr int kTilePixels = kTileSide * kTileSide;

using Bytes = std::vector<std::byte>;
using SharedBytes = std::shared_ptr<const Bytes>;

/// XXH3-128 of a tile's bytes, or of its one value: equal content, equal hash.
struct ContentHash {
  std::uint64_t high = 0, low = 0;
  friend bool operator==(const ContentHash&, const ContentHash&) = default;
  friend auto operator<=>(const ContentHash&, const ContentHash&) = default;
};
ContentHash hashOf(std::span<const std::byte> bytes);

/// Where evicted tiles are read back from. Any thread.
class TileBacking {
 public:
  virtual ~TileBacking() = default;
  virtual base::Result<Bytes> read(const ContentHash& hash, std::size_t expectedBytes) = 0;
};

class TileMemory;

/// Any thread. Made by TileMemory only.
class Tile {
 public:
  PixelFormat format() const { return format_; }
  /// The one value of a uniform tile: bytesOf(format) bytes.
  const std::optional<std::array<std::byte, 8>>& uniform() const { return uniform_; }
  /// Computed at first use and kept.
  ContentHash hash() const;
  /// What the bytes can be read back from; null while they are only in memory.
  std::shared_ptr<TileBacking> backing() const;
  /// From now on the tile may leave memory and be read back from `backing`.
  void setBacking(std::shared_ptr<TileBacking> backing) const;
  bool resident() const;
  ~Tile();

 private:
  friend class TileMemory;
  friend class TilePin;
  friend base::Result<class TilePin> pin(const std::shared_ptr<const Tile>& tile);
  Tile() = default;

  PixelFormat format_ = PixelFormat::grey8;
  std::optional<std::array<std::byte, 8>> uniform_;
  std::shared_ptr<TileMemory> memory_;
  mutable std::mutex mutex_;
  mutable SharedBytes bytes_;                     // null: not in memory
  mutable std::shared_ptr<TileBacking> backing_;  // null: only in memory
  mutable std::optional<ContentHash> hash_;
  mutable std::atomic<std::uint64_t> lastUse_{0};
};
using TileRef = std::shared_ptr<const Tile>;

/// Keeps a tile's bytes in memory while it lives.
class TilePin {
 public:
  bool isUniform() const { return bytes_ == nullptr; }
  /// kTilePixels · bytesOf(format) bytes; not for a uniform tile.
  const std::byte* data() const { return bytes_->data(); }
  const std::byte* value() const { return value_.data(); }
  PixelFormat format() const { return format_; }

 private:
  friend base::Result<TilePin> pin(const TileRef& tile);
  SharedBytes bytes_;
  std::array<std::byte, 8> value_{};
  PixelFormat format_ = PixelFormat::grey8;
};

/// The only way to pixels. Errors: what the backing's read says.
base::Result<TilePin> pin(const TileRef& tile);

/// Makes tiles and keeps the bytes of all of them under a budget by evicting the least recently used that are backed. Any thread.
class TileMemory : public std::enable_shared_from_this<TileMemory> {
 public:
  static std::shared_ptr<TileMemory> create(std::size_t budgetBytes);
  /// Takes kTilePixels pixels and detects a single value.
  TileRef adopt(PixelFormat format, Bytes bytes);
  TileRef uniform(PixelFormat format, std::span<const std::byte> value);
  /// A tile whose bytes are in a backing; they are read at the first pin.
  TileRef backed(PixelFormat format, const ContentHash& hash, std::shared_ptr<TileBacking> backing);

  /// Evicts until memory is under the budget, as far as backed tiles allow. To be called after setBacking(); new tiles do it
  /// themselves.
  void trim();

  std::size_t residentBytes() const { return resident_.load(); }
  /// Length of the eviction list; never many more than there are tiles in memory.
  std::size_t listed() const;
  std::size_t budgetBytes() const { return budget_; }

 private:
  friend class Tile;
  friend base::Result<TilePin> pin(const TileRef& tile);
  explicit TileMemory(std::size_t budget) : budget_(budget), evictAbove_(budget) {}
  void noteResident(const TileRef& tile, std::size_t bytes);
  void evict();

  std::size_t budget_;
  std::atomic<std::size_t> resident_{0}, residentTiles_{0};
  std::atomic<std::size_t> evictAbove_;  // the budget, or more while nothing can be evicted
  std::atomic<std::uint64_t> clock_{1};
  mutable std::mutex mutex_;
  std::vector<std::weak_ptr<const Tile>> residents_;
};

}  // namespace hseam::image
