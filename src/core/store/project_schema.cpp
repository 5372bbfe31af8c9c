#include "core/store/project_schema.h"

#include <algorithm>
#include <cstdint>

#include "core/store/names.h"
#include "core/store/sources.h"

namespace hseam::store {
namespace {

constexpr std::int64_t kOldest = 2;

// Layers' records, pictures' manifests and packed tiles are items, numbered as they come: a step adds neighbouring rows to the
// end of one table and touches few pages, so that keeping a stroke writes little more than its tiles.
constexpr const char* kSchema = R"(
CREATE TABLE meta   (key TEXT PRIMARY KEY, value INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE item   (id INTEGER PRIMARY KEY, data BLOB NOT NULL) STRICT;
CREATE TABLE step   (sequence INTEGER PRIMARY KEY, label TEXT NOT NULL, kind TEXT NOT NULL, scene TEXT NOT NULL, at_ms INTEGER NOT NULL) STRICT;
INSERT INTO meta VALUES ('current', 0), ('open', 1);
)";
// readableFrom: programs of this version on can read the file, also if they cannot write it.
constexpr const char* kSince3 = "INSERT INTO meta VALUES ('readableFrom', 3), ('highestLayerId', 0)";

std::string versionPragma() {
  return "PRAGMA user_version=" + std::to_string(kSchemaVersion);
}

Status from2(Database& database) {
  HSEAM_TRY(Transaction t, Transaction::begin(database));
  HSEAM_DO(sourcesFromVersion2(database));
  HSEAM_DO(database.execute(kSince3));
  HSEAM_DO(database.execute(versionPragma()));
  return t.commit();
}

}  // namespace

Status makeProjectSchema(Database& database) {
  HSEAM_TRY(Transaction t, Transaction::begin(database));
  HSEAM_DO(database.execute("PRAGMA application_id=" + std::to_string(kApplicationId)));
  HSEAM_DO(database.execute(versionPragma()));
  HSEAM_DO(database.execute(kSchema));
  HSEAM_DO(database.execute(sourceSchema()));
  HSEAM_DO(database.execute(kSince3));
  return t.commit();
}

Result<std::int64_t> versionOf(Database& database, bool toWrite) {
  const std::string& path = database.path();
  HSEAM_TRY(const std::int64_t id, database.number("PRAGMA application_id"));
  if (id != kApplicationId) return Error{Code::corrupt, path, "this is not a Hidden Seam project"};
  HSEAM_TRY(const std::int64_t version, database.number("PRAGMA user_version"));
  if (version < kOldest)
    return Error{Code::unsupported, path, "this project was made by a test version of Hidden Seam that kept pixels another way"};
  HSEAM_TRY(
      const std::int64_t tables,
      database.number("SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('meta', 'item', 'source', 'step')"));
  if (tables != 4) return Error{Code::corrupt, path, "the project lacks some of its tables"};
  if (version > kSchemaVersion) {
    HSEAM_TRY(const std::int64_t from, database.number("SELECT value FROM meta WHERE key = 'readableFrom'"));
    if (from < kOldest || from > kSchemaVersion)
      return Error{Code::unsupported, path,
                   "this project was made by a newer version of Hidden Seam, which this one cannot read"};
    if (toWrite)
      return Error{Code::unsupported, path,
                   "this project was made by a newer version of Hidden Seam: this one can only look at it"};
  }
  return version;
}

Status bringUpToDate(Database& database, std::int64_t version) {
  if (version == 2) HSEAM_DO(from2(database));
  return {};
}

Result<std::int64_t> highestLayerId(Database& database) {
  return database.number("SELECT value FROM meta WHERE key = 'highestLayerId'");
}

Status setHighestLayerId(Database& database, scene::LayerId id) {
  HSEAM_TRY(Statement s, database.prepare("UPDATE meta SET value = max(value, ?) WHERE key = 'highestLayerId'"));
  return s.bind(1, std::int64_t(std::min(id.value, std::uint64_t(INT64_MAX)))).run();
}

Status closeProject(Database& database) {
  // Somebody who looks at it may do so for hours: then an empty log stays beside it, which whoever opens it next takes away.
  database.setPatience(300);
  HSEAM_DO(database.execute("UPDATE meta SET value = 0 WHERE key = 'open'"));
  HSEAM_TRY(const std::int64_t busy, database.number("PRAGMA wal_checkpoint(TRUNCATE)"));
  if (busy) return Error{Code::conflict, database.path(), "another program reads this project; its log stays beside it for now"};
  return database.execute("PRAGMA journal_mode=DELETE");
}

}  // namespace hseam::store
