#pragma once

#include <memory>
#include <mutex>
#include <optional>
#include <string>

#include "core/image/raster.h"
#include "core/store/sqlite.h"

namespace hseam::store {

/// A disk cache of thumbnails, keyed by a file's first bytes, size and time of change: a moved or renamed file is found again, a
/// changed one is not. It may be deleted at any time. Any thread.
class Thumbnails {
 public:
  /// folder: made if it is not there. A cache that cannot be opened is made anew; without a folder it keeps nothing.
  explicit Thumbnails(const std::string& folder);
  /// sRGB, 8 bit, at most `longest` px; from the cache or from the file. Errors: as image::preview.
  base::Result<image::Raster<std::uint8_t>> of(const std::string& path, int longest);

 private:
  std::optional<image::Raster<std::uint8_t>> find(const std::string& key);
  void keep(const std::string& key, const image::Raster<std::uint8_t>& picture);
  std::mutex mutex_;
  std::optional<Database> database_;
};

}  // namespace hseam::store
