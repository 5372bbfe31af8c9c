#pragma once
// The tables of a project file, and how older versions become this one.

#include "core/scene/placement.h"
#include "core/scene/scene.h"
#include "core/store/sqlite.h"

namespace hseam::store {

inline constexpr std::int64_t kApplicationId = 0x4853454d;  // "HSEM"
/// 3: sources in parts, the highest layer id, and from which version on a file can be read. 2 had each source in one row. 1 was a
/// test version of one day that kept pixels another way; it is not read.
inline constexpr std::int64_t kSchemaVersion = 3;
inline constexpr int kMostSteps = 100'000'000;

/// In a new, empty database. Errors: what the database says.
base::Status makeProjectSchema(Database& database);
/// The version of the project, once it is known to be one that this program understands: to read it, or to write it too. Errors:
/// corrupt (it is no project, or lacks tables), unsupported (too old, or newer).
base::Result<std::int64_t> versionOf(Database& database, bool toWrite);
/// One transaction a version; nothing to do for the newest. Errors: what the database says.
base::Status bringUpToDate(Database& database, std::int64_t version);
/// The largest id that a layer of any step has had; 0: not known.
base::Result<std::int64_t> highestLayerId(Database& database);
/// Never lowers it.
base::Status setHighestLayerId(Database& database, scene::LayerId id);
/// Marks it as closed and leaves one plain file, that can be looked at without leaving anything beside it. Errors: conflict
/// (another program reads it).
base::Status closeProject(Database& database);

}  // namespace hseam::store
