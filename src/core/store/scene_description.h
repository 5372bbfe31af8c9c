#pragma once
// A scene written down as JSON, for `hseam new` and the demo. The key table: docs/scene-json.md.

#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/scene/edit.h"

namespace hseam::store {

struct Described {
  scene::Scene scene;
  std::vector<std::string> sourceFiles;  // pictures read, to be kept in the project as they came
  std::vector<std::string> warnings;
};

/// Reads the description and all pictures it names; paths are relative to the description's folder. Unknown keys, wrong
/// types and values out of range are errors that name the key. Errors: notFound, corrupt, invalid, what reading says.
base::Result<Described> readDescription(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                        base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::store
