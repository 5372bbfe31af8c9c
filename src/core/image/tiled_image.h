#pragma once
// A picture as a value: shared tiles in a pyramid of levels. Copying costs a pointer.

#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/executor.h"
#include "core/base/geometry.h"
#include "core/base/progress.h"
#include "core/image/raster.h"
#include "core/image/tile.h"

namespace hseam::image {

/// Limits of side and area: reading a larger picture fails with limitExceeded before anything is allocated.
inline constexpr int kMaxSide = 32768;
inline constexpr std::int64_t kMaxPixels = 300'000'000;

class TiledImage {
  struct Body;

 public:
  struct Level {
    base::Size size;
    int columns = 0, rows = 0;
    /// rowRefs[row][column]; a row is shared until one of its tiles changes.
    std::vector<std::shared_ptr<const std::vector<TileRef>>> rowRefs;
    const TileRef& tile(int column, int row) const { return (*rowRefs[std::size_t(row)])[std::size_t(column)]; }
  };

  TiledImage() = default;  // nothing: `!isNull()` is false
  bool isNull() const { return body_ == nullptr; }
  base::Size size() const { return body_ ? body_->levels[0].size : base::Size{}; }
  PixelFormat format() const { return body_->format; }
  /// Level n has the size of level n − 1 halved, rounded up; the last fits into one tile.
  int levelCount() const { return int(body_->levels.size()); }
  const Level& level(int n) const { return body_->levels[std::size_t(n)]; }
  /// Equal stamps: the same pixels. Different stamps: the pixels may still be equal.
  std::uint64_t stamp() const { return body_ ? body_->stamp : 0; }
  const std::shared_ptr<TileMemory>& memory() const { return body_->memory; }

  /// Does not keep the picture alive.
  class Weak {
   public:
    Weak() = default;
    explicit Weak(const TiledImage& image) : body_(image.body_) {}
    /// The picture, or null if nobody holds it any more.
    TiledImage lock() const {
      TiledImage image;
      image.body_ = body_.lock();
      return image;
    }

   private:
    std::weak_ptr<const Body> body_;
  };

  /// Every pixel `value` (bytesOf(format) bytes).
  static TiledImage uniform(base::Size size, PixelFormat format, std::span<const std::byte> value,
                            const std::shared_ptr<TileMemory>& memory);
  /// From levels read elsewhere (a project file). Errors: corrupt if sizes and tile counts do not fit together.
  static base::Result<TiledImage> fromLevels(PixelFormat format, std::vector<Level> levels,
                                             const std::shared_ptr<TileMemory>& memory);

 private:
  friend class ImageEditor;
  struct Body {
    PixelFormat format;
    std::vector<Level> levels;
    std::uint64_t stamp;
    std::shared_ptr<TileMemory> memory;
  };
  std::shared_ptr<const Body> body_;
};

/// Grey 8-bit coverage of one value.
TiledImage uniformCoverage(base::Size size, std::uint8_t value, const std::shared_ptr<TileMemory>& memory);

/// Changes a copy of an image. One thread. Tiles touched are copied once; commit() freezes them and renews the levels above.
class ImageEditor {
 public:
  explicit ImageEditor(TiledImage base) : base_(std::move(base)) {}
  ImageEditor(const ImageEditor&) = delete;
  ImageEditor& operator=(const ImageEditor&) = delete;

  /// The editor's own copy of a level-0 tile, rows of kTileSide pixels. Pixels beyond the image's edge are kept but never shown.
  base::Result<std::byte*> tile(int column, int row);
  /// Replaces a whole tile.
  void setTile(int column, int row, Bytes bytes);
  /// Returns the changed image. Cost: the touched tiles and a third more for the levels above.
  base::Result<TiledImage> commit(base::Executor& executor) &&;

 private:
  struct Touched {
    int column, row;
    Bytes bytes;
  };
  TiledImage base_;
  std::vector<Touched> touched_;
};

/// Cuts interleaved rows into tiles. `fill(band, rows)` is asked for at most 256 rows at a time, from the top, into a
/// buffer of width · bytesOf(format) bytes a row; it returns an error to stop.
using RowSource = std::function<base::Status(int firstRow, int rowCount, std::byte* rows)>;
base::Result<TiledImage> tiledFromRows(base::Size size, PixelFormat format, const std::shared_ptr<TileMemory>& memory,
                                       base::Executor& executor, const base::Progress& progress, const RowSource& fill);
base::Result<TiledImage> tiledFromRaster(const Raster<std::uint8_t>& raster, PixelFormat format,
                                         const std::shared_ptr<TileMemory>& memory, base::Executor& executor);

/// Copies an area of a level out, samples of 8 or 16 bit as 0..1 floats. Outside the image the nearest edge pixel is repeated.
base::Result<Raster<float>> readFloat(const TiledImage& image, int level, const base::Rect& area);
/// The same for 8-bit images, as they are.
base::Result<Raster<std::uint8_t>> read8(const TiledImage& image, int level, const base::Rect& area);
/// A new image in which `area` (level 0) holds the 8-bit `pixels`, of the area's size and the image's channels.
base::Result<TiledImage> withPixels(const TiledImage& image, const base::Rect& area, const Raster<std::uint8_t>& pixels,
                                    base::Executor& executor);

/// True if all tiles of level 0 under `area` are known to be one value, every byte of it `value`. Never waits for a disk.
bool isUniformIn(const TiledImage& image, const base::Rect& area, std::uint8_t value);

/// The box in which two images of one size and format differ (level 0): to the pixel where their tiles are in memory, by
/// whole tiles elsewhere; all of it if they can't be compared. Never waits for a disk.
base::Rect differenceOf(const TiledImage& a, const TiledImage& b);
/// The same as one box for each tile that differs, so that a change along a ring does not include its middle.
std::vector<base::Rect> differencesOf(const TiledImage& a, const TiledImage& b);

}  // namespace hseam::image
