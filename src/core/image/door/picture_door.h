#pragma once
// The interface of the separately loaded picture module, for core/image alone.

#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/base/geometry.h"
#include "core/image/metadata.h"

namespace hseam::image::door {

struct Header {
  base::Size size;
  int channels = 0;
  bool wide = false;    // 16 bit per sample, else 8
  int orientation = 1;  // EXIF 1..8
  bool cmyk = false;    // four inks: 8-bit samples, 255 = full ink
  std::vector<std::byte> profile;
};

class Reader {
 public:
  virtual ~Reader() = default;
  virtual const Header& header() const = 0;
  /// All rows, as stored, `channels` samples of 8 or 16 bit. `warning` gets a sentence if the file is truncated or damaged but
  /// partly readable. stop(share) is called regularly; true cancels.
  virtual base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) = 0;
};

struct WriteSpec {
  base::Size size;
  int channels = 3;
  bool wide = false;
  int quality = 92;          // JPEG and WebP, 1..100; WebP at 100 is without loss
  double pixelsPerInch = 0;  // JPEG, PNG and TIFF; 0: not said
  std::vector<std::byte> profile;
};

class Door {
 public:
  virtual ~Door() = default;
  /// kind: "jpeg", "png", "tiff", "openexr", "webp" or "raw", from the first bytes. OpenEXR is returned as 16-bit encoded sRGB
  /// with straight alpha. enough: px of the longer side that suffice, 0 for full size; formats that can be decoded at a smaller
  /// size are decoded no smaller than that.
  virtual base::Result<std::unique_ptr<Reader>> open(const std::string& path, const std::string& kind, int enough) = 0;
  /// next(y, row): fills row y. kind as above.
  virtual base::Status write(const std::string& path, const std::string& kind, const WriteSpec& spec,
                             const std::function<base::Status(int y, std::byte* row)>& next) = 0;
  virtual base::Result<Metadata> metadata(const std::string& path) = 0;
  virtual base::Status addMetadata(const std::string& path, const Metadata& metadata) = 0;
  /// xmp:Rating of an XMP packet; 0 if it has none or is not valid.
  virtual int ratingIn(const std::string& packet) = 0;
  /// The packet with its rating changed and all else kept; from an empty string, a new packet. Errors: corrupt (not XMP).
  virtual base::Result<std::string> withRating(const std::string& packet, int rating) = 0;
};

inline constexpr const char* kEntry = "hseam_picture_door";
using Entry = Door* (*)();

}  // namespace hseam::image::door
