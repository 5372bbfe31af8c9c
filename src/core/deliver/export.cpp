#include "core/deliver/export.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "core/base/temporary_folder.h"
#include "core/deliver/rows.h"

namespace hseam::deliver {

base::Size exportSize(base::Size canvas, int longSide) {
  const int longest = std::max(canvas.width, canvas.height);
  if (longSide <= 0 || longSide >= longest) return canvas;
  const double scale = double(longSide) / longest;
  return {std::max(1, int(std::lround(canvas.width * scale))), std::max(1, int(std::lround(canvas.height * scale)))};
}

base::Status exportScene(const scene::Scene& scene, const std::string& path, const ExportOptions& o, base::Executor& executor,
                         const base::Progress& progress) try {
  HSEAM_TRY(Rows rows, Rows::of(scene, o, executor, progress));
  HSEAM_DO(image::writePicture(path,
                               {o.kind, rows.size(), rows.format(), o.quality, o.pixelsPerInch, true, rows.profile(), o.about},
                               [&](int y, std::byte* out) { return rows.fill(y, out); }));
  progress.report(1);
  return {};
} catch (...) {
  return base::caught(path);
}

base::Result<std::int64_t> exportWeight(const scene::Scene& scene, const ExportOptions& options, base::Executor& executor,
                                        const base::Progress& progress) try {
  const base::TemporaryFolder folder("weight");
  if (!folder.ok())
    return base::Error{base::Code::unwritable, "", "there is no room for a temporary file, so that the weight cannot be told"};
  const std::string place = folder.at(std::string("picture") + endingOf(options.kind));
  HSEAM_DO(exportScene(scene, place, options, executor, progress));
  std::error_code problem;
  const auto bytes = std::filesystem::file_size(place, problem);
  if (problem) return base::Error{base::Code::unwritable, place, "what was written is gone, so that its weight cannot be told"};
  return std::int64_t(bytes);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::deliver
