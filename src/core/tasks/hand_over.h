#pragma once
// Exports a scene to a file, in the format of its extension.

#include <optional>

#include "core/deliver/weights.h"

namespace hseam::tasks {

struct HandOverOptions {
  deliver::ExportOptions file;     // its kind is that of the name; for OpenRaster nothing of it counts
  int width = 0;                   // px; 0: as file.longSide says; not enlarged
  std::int64_t mostBytes = 0;      // 0: by file.quality; else the best quality that weighs no more (JPEG and WebP)
  bool plate = false;              // before and after beside one another (plate.h); not for OpenRaster
  bool weighEveryQuality = false;  // tell what several qualities weigh and cost (JPEG and WebP)
  /// The permission of what is seen (scene/permission.h): a lapsed one and minors are an error unless somebody answers for it;
  /// then it is logged. Missing notes are warnings.
  bool asksPermission = false, answeredFor = false;
};
struct HandedOver {
  base::Size size;
  std::int64_t bytes = 0;
  int quality = 0, filesTried = 0;      // of mostBytes
  std::vector<deliver::Trial> weights;  // of weighEveryQuality
  std::vector<std::string> warnings;    // what the form of file cannot hold
};
/// The form follows from the name's ending: PNG, JPEG, TIFF, WebP, OpenEXR, or OpenRaster with all layers. Errors: unsupported
/// (another ending; weights of a file without a quality), limitExceeded (no quality weighs so little), conflict (permissions),
/// those of exporting.
base::Result<HandedOver> handOver(const scene::Scene& scene, const std::string& path, const HandOverOptions& options,
                                  const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                  const base::Progress& progress);

}  // namespace hseam::tasks
