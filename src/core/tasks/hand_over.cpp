#include "core/tasks/hand_over.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "core/base/log.h"
#include "core/deliver/layered.h"
#include "core/scene/permission.h"
#include "core/tasks/plate.h"

namespace hseam::tasks {
namespace {

namespace fs = std::filesystem;

// The quality by which a file is written, and what was found out on the way.
base::Status chooseQuality(const scene::Scene& s, const HandOverOptions& o, deliver::ExportOptions& file, HandedOver& out,
                           base::Executor& executor, const base::Progress& progress) {
  if (o.mostBytes <= 0 && !o.weighEveryQuality) return {};
  HSEAM_TRY(const auto picture, deliver::encodable(s, file, executor, progress.part(0, 0.5)));
  if (o.mostBytes > 0) {
    HSEAM_TRY(const auto found, deliver::bestUnder(picture, o.mostBytes, progress.part(0.5, 1)));
    file.quality = out.quality = found.quality;
    out.filesTried = found.files;
  }
  if (o.weighEveryQuality) {
    for (const int quality : deliver::kUsualQualities) {
      HSEAM_TRY(deliver::Trial trial, deliver::trialAt(picture, quality, executor, {}));
      out.weights.push_back(std::move(trial));
    }
  }
  return {};
}

base::Status askPermission(const scene::Scene& s, const std::string& path, const HandOverOptions& o, HandedOver& out) {
  if (!o.asksPermission) return {};
  const auto unclear = scene::unclearPermissions(s, scene::today()), against = scene::standAgainst(unclear);
  if (!against.empty() && !o.answeredFor)
    return base::Error{base::Code::conflict, path, "not handed over: " + scene::sentences(against, "; ")};
  if (!against.empty())
    base::log(base::LogLevel::warning, "handed over as " + path + ", answered for: " + scene::sentences(against, "; "));
  for (const auto& u : unclear) out.warnings.push_back(u.name + ": " + scene::sentence(u));
  return {};
}

}  // namespace

base::Result<HandedOver> handOver(const scene::Scene& scene, const std::string& path, const HandOverOptions& options,
                                  const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                  const base::Progress& progress) try {
  HandedOver out;
  HSEAM_DO(askPermission(scene, path, options, out));
  if (fs::path(path).extension() == ".ora") {
    HSEAM_TRY(const auto warnings, deliver::exportLayered(scene, path, executor, progress));
    out.warnings.insert(out.warnings.end(), warnings.begin(), warnings.end());
    out.size = scene.canvas;
  } else {
    const auto kind = image::fileKindOf(path);
    if (!kind) return base::Error{base::Code::unsupported, path, "the name must end in .png, .jpg, .tif, .webp, .exr or .ora"};
    deliver::ExportOptions file = options.file;
    file.kind = *kind;
    if (options.width > 0) {
      const int longer = std::max(scene.canvas.width, scene.canvas.height);
      file.longSide = int(std::lround(double(options.width) * longer / scene.canvas.width));
    }
    scene::Scene shown = scene;
    if (options.plate) {
      HSEAM_TRY(shown, plate(scene, {}, memory, executor, progress.part(0, 0.3)));
    }
    HSEAM_DO(chooseQuality(shown, options, file, out, executor, progress.part(0.3, 0.6)));
    HSEAM_DO(deliver::exportScene(shown, path, file, executor, progress.part(0.6, 1)));
    out.size = deliver::exportSize(shown.canvas, file.longSide);
  }
  out.bytes = std::int64_t(fs::file_size(path));
  return out;
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::tasks
