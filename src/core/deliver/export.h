#pragma once
// Handing over: the scene rendered, scaled and written.

#include <string>

#include "core/image/picture_file.h"
#include "core/render/renderer.h"

namespace hseam::deliver {

struct ExportOptions {
  image::FileKind kind = image::FileKind::png;
  int longSide = 0;            // px; 0 = as large as the canvas; larger than the canvas is not enlarged
  int quality = 92;            // JPEG and WebP, 1..100; WebP at 100 is without loss
  bool keepAlpha = true;       // all but JPEG; else the scene is laid on white in linear light (JPEG always)
  bool wide = false;           // 16 bit a sample; TIFF and OpenEXR always, JPEG and WebP never
  image::Metadata about = {};  // title, creator, rights and source type are written; the rest is not
  double pixelsPerInch = 0;    // JPEG, PNG and TIFF; 0: not said
  std::string profile = {};    // an ICC profile of RGB, as a file: colours are written in it; empty: sRGB. Not for OpenEXR
  friend bool operator==(const ExportOptions&, const ExportOptions&) = default;
};

/// Renders at full size and writes sRGB, or the given profile's space, with the profile embedded; reduced in linear light where a
/// long side is asked for; 8-bit files are dithered with a fixed pattern of half a step, which leaves exact values alone. The
/// same scene and options give the same bytes. Errors: cancelled, unwritable, what rendering says.
base::Status exportScene(const scene::Scene& scene, const std::string& path, const ExportOptions& options,
                         base::Executor& executor, const base::Progress& progress);

/// The size in px that the export will have.
base::Size exportSize(base::Size canvas, int longSide);

/// How many bytes the file would have: writes it to a temporary folder and removes it.
base::Result<std::int64_t> exportWeight(const scene::Scene& scene, const ExportOptions& options, base::Executor& executor,
                                        const base::Progress& progress);

}  // namespace hseam::deliver
