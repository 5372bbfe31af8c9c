#pragma once
// Before and after beside each other, as one picture.

#include "core/scene/edit.h"

namespace hseam::tasks {

/// The same pictures in their places, cut, but as they came: no adjustments, no modes, no cleaned colours, no lights.
scene::Scene asTheyCame(const scene::Scene& scene);

struct PlateOptions {
  std::string before = "before", after = "after";  // the words below; empty: none
};
/// A scene of white paper with both pictures on it, as large as they are, and words below. Its pixels go into `memory`. Errors:
/// what rendering and lettering say, cancelled.
base::Result<scene::Scene> plate(const scene::Scene& scene, const PlateOptions& options,
                                 const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                 const base::Progress& progress);

}  // namespace hseam::tasks
