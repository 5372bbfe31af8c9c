#pragma once
// Metadata read from picture files and written into exports: EXIF and XMP by Exiv2.

#include <string>

#include "core/base/error.h"

namespace hseam::image {

/// Empty or 0: the file does not say. Texts are UTF-8 of one line, however the file held them: EXIF as UTF-8 or else ISO 8859-1,
/// IPTC as it declares, XMP as UTF-8.
struct Metadata {
  std::string camera, lens, takenAt;  // takenAt: "2026:05:01 18:20:11", as EXIF has it
  double exposureS = 0, aperture = 0, focalMm = 0, focal35Mm = 0;
  int iso = 0;
  std::string title, creator, rights;
  std::string sourceType;  // IPTC digital source type, an address of its NewsCodes: how the picture came about
  friend bool operator==(const Metadata&, const Metadata&) = default;
};

/// "A mix of several captured pictures".
inline constexpr const char* kCompositeOfCaptures = "http://cv.iptc.org/newscodes/digitalsourcetype/compositeCapture";

/// A file without metadata is not an error. Errors: notFound, unreadable.
base::Result<Metadata> readMetadata(const std::string& path);
/// Adds title, creator, rights and source type (where not empty) to a picture file that exists: XMP dc and Iptc4xmpExt, and EXIF
/// where the format has it.
/// Errors: unwritable, unsupported (OpenEXR keeps none).
base::Status writeMetadata(const std::string& path, const Metadata& metadata);

}  // namespace hseam::image
