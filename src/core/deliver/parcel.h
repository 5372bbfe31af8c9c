#pragma once
// One destination of a finished scene: the kind of file and its name.

#include <string>
#include <vector>

#include "core/deliver/export.h"

namespace hseam::deliver {

struct Parcel {
  std::string name;            // "web"
  std::string suffix;          // of the file's name: "-web"
  bool layered = false;        // OpenRaster with all layers; options are ignored
  ExportOptions options = {};  // longSide too
  std::int64_t mostBytes = 0;  // JPEG and WebP: the best quality that weighs no more; 0: options.quality
  bool trimmed = false;        // cut to what shows; needs an alpha
};

/// Web, print, a transparent cut-out, and the layered original.
std::vector<Parcel> usualParcels();

/// "scene-web.jpg".
std::string fileNameOf(const Parcel& parcel, const std::string& title);

struct Sent {
  std::string path;
  base::Size size;
  std::int64_t bytes = 0;
  int quality = 0;                    // that was found, or asked for; 0: the kind has none
  std::vector<std::string> warnings;  // what the format cannot hold
};
/// Writes one parcel into a folder. replace: a file of that name may be replaced; otherwise its presence is an error. An
/// unfinished file is removed. Errors: conflict (there is such a file), limitExceeded (even the least quality weighs more),
/// invalid (nothing shows, so that there is nothing to trim to), unwritable, cancelled, what rendering says.
base::Result<Sent> send(const scene::Scene& scene, const Parcel& parcel, const std::string& folder, const std::string& title,
                        bool replace, base::Executor& executor, const base::Progress& progress);

/// px of the canvas that are not empty: alpha above 1/255 somewhere. Empty: none. Errors: what rendering says, cancelled.
base::Result<base::Rect> whatShows(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::deliver
