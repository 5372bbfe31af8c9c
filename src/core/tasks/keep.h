#pragma once
// Makes and changes projects without a window, for hseam and batches.

#include "core/scene/edit.h"
#include "core/store/project_file.h"

namespace hseam::tasks {

struct MakeOptions {
  std::string description;  // file, JSON (docs/scene-json.md)
  bool replace = false;     // an existing project
};
struct Made {
  int layers = 0;  // groups and what they hold
  std::vector<std::string> warnings;
};
/// A project from a description, with the pictures it names. It is written to a temporary file and renamed, so that a failure
/// leaves the old one. Errors: conflict (it exists), those of store::readDescription and of ProjectFile.
base::Result<Made> makeProject(const std::string& path, const MakeOptions& options,
                               const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                               const base::Progress& progress);

/// An Edit as a step of an open project: applied, written, and the current one. Errors: those of scene::apply and of keeping;
/// nothing is changed then.
base::Status keep(store::ProjectFile::Opened& project, const scene::Edit& edit);

}  // namespace hseam::tasks
