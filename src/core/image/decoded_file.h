#pragma once
// A picture file's stored samples and how to interpret them. For picture_file.cpp and preview.cpp.

#include <memory>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/base/progress.h"
#include "core/image/colour_profile.h"
#include "core/image/door/picture_door.h"
#include "core/image/pixel_format.h"

namespace hseam::image {

/// The module that reads and writes, opened at first use. unsupported: it is missing.
base::Result<door::Door*> pictureDoor();

/// "jpeg", "png", "tiff", "openexr", "webp" or "raw", by the first bytes (camera raw by its ending).
/// Errors: notFound, unreadable, corrupt, unsupported.
base::Result<std::string> kindByContent(const std::string& path);

/// The file name extension with its dot, in lower case.
std::string endingOf(const std::string& path);

struct DecodedFile {
  door::Header header;
  std::vector<std::byte> rows;
  std::string warning;
};

/// Sizes are checked before anything is allocated. enough: px of the longer side that suffice, 0 for all.
base::Result<DecodedFile> decodeFile(const std::string& path, const base::Progress& progress, int enough = 0);

/// EXIF orientation: maps a displayed pixel (x, y) to the stored one.
struct Turned {
  base::Size stored;
  int orientation;
  base::Size shown() const { return orientation >= 5 ? base::Size{stored.height, stored.width} : stored; }
  std::size_t index(int x, int y) const;
};

/// Stored samples to rows of sRGB, upright. Keeps a pointer to the file.
class ToSrgb {
 public:
  /// warnings: sentences about the profile are added.
  ToSrgb(const DecodedFile& file, std::vector<std::string>& warnings);
  base::Size size() const { return turned_.shown(); }
  PixelFormat format() const;
  /// y-th displayed row, of format().
  void row(int y, std::byte* out) const;

 private:
  template <class In>
  void rowOf(int y, std::byte* out) const;
  bool alpha() const { return file_->header.channels == 2 || (file_->header.channels >= 4 && !file_->header.cmyk); }
  const DecodedFile* file_;
  Turned turned_;
  std::optional<ProfileTransform> profile_;  // none: samples are sRGB already
};

}  // namespace hseam::image
