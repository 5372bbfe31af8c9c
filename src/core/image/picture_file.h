#pragma once
// Picture files in and out: JPEG (CMYK too), PNG, TIFF, OpenEXR, WebP; camera raw in. The kind is told by the first bytes, not by
// the name; only camera raw, which looks like TIFF, by its extension.

#include <functional>
#include <string>
#include <vector>

#include "core/image/metadata.h"
#include "core/image/tiled_image.h"

namespace hseam::image {

struct Picture {
  TiledImage pixels;  // sRGB, displayed orientation; rgb8, rgba8, rgb16 or rgba16 (grey is spread to rgb)
  std::vector<std::string>
      warnings;  // sentences for the user: damaged part, unusable profile, inks without a profile, light above white
};

/// Reads a picture. EXIF orientation and the embedded ICC profile are applied (a profile other than sRGB gives 16-bit
/// samples); a picture without one counts as sRGB. Sizes are checked before anything is allocated.
/// Errors: notFound, unreadable, corrupt, limitExceeded, unsupported, cancelled.
base::Result<Picture> readPicture(const std::string& path, const std::shared_ptr<TileMemory>& memory, base::Executor& executor,
                                  const base::Progress& progress);

/// Reads a mask or trimap: one channel, 8 bit or 16 bit, no colour management (a colour file gives its mean).
base::Result<TiledImage> readCoverage(const std::string& path, const std::shared_ptr<TileMemory>& memory,
                                      base::Executor& executor);

enum class FileKind { png, jpeg, tiff, webp, openexr };
/// By the extension of a name; empty if unknown.
std::optional<FileKind> fileKindOf(const std::string& path);
/// With its dot: ".png".
const char* endingOf(FileKind kind);

struct WriteOptions {
  FileKind kind = FileKind::png;
  base::Size size;
  PixelFormat format = PixelFormat::rgb8;  // jpeg: rgb8 or grey8; webp: rgb8 or rgba8; openexr: rgb16 or rgba16
  int quality = 92;                        // jpeg and webp, 1..100; webp at 100 is without loss
  double pixelsPerInch = 0;                // jpeg, png and tiff; 0: not said
  bool embedSrgb = true;                   // not for grey, nor for openexr, which holds light
  std::vector<std::byte> profile = {};     // embedded instead of sRGB's, where embedSrgb holds: what the numbers are in
  Metadata about = {};                     // title, creator, rights and source type; openexr keeps none
};

/// Writes to a temporary file beside `path` and renames it: a failed write leaves the old file. `row(y, bytes)` fills a row.
/// Errors: unwritable, cancelled, what `row` says.
base::Status writePicture(const std::string& path, const WriteOptions& options,
                          const std::function<base::Status(int y, std::byte* row)>& row);

/// Writes level 0 of an image in its own format.
base::Status writeTiled(const std::string& path, const TiledImage& image, int quality = 92);

}  // namespace hseam::image
