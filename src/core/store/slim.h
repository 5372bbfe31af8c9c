#pragma once
// Makes a smaller copy of a project, or an archive of it with its sources.

#include "core/store/project_file.h"

namespace hseam::store {

/// What slimming would drop and leave.
struct SlimReport {
  int steps = 0;                             // steps that could be gone back to
  std::int64_t bytesNow = 0, bytesThen = 0;  // of pixels and sources; the file is a little larger
  std::vector<std::string> sources;          // files that no layer shows any more
};
/// Changes nothing. Errors: what reading says.
base::Result<SlimReport> slimReport(ProjectFile& file, const scene::Scene& current);

/// Writes a copy that holds the current scene as its first step, with the sources that its layers came from. The file it
/// was made from stays as it is. An existing file at `path` is replaced only once the copy is whole. Errors: unwritable.
base::Status slimTo(ProjectFile& file, const scene::Scene& current, const std::string& path);

/// A zip with the whole project, every source file under its own name, and a list of both (contents.json: open for any
/// reader). Errors: unwritable, cancelled.
base::Status archiveTo(ProjectFile& file, const std::string& path, const base::Progress& progress);

}  // namespace hseam::store
