#include "core/store/sources.h"

#include <xxhash.h>

#include <cstdio>
#include <filesystem>
#include <functional>
#include <memory>
#include <new>

#include "core/store/names.h"
#include "core/store/tile_codec.h"

namespace hseam::store {
namespace {

using Bytes = std::span<const std::byte>;

class Hashing {
 public:
  Hashing() : state_(XXH3_createState(), XXH3_freeState) {
    CORE_CHECK(state_ != nullptr);
    XXH3_128bits_reset(state_.get());
  }
  void add(Bytes bytes) { XXH3_128bits_update(state_.get(), bytes.data(), bytes.size()); }
  std::string name() const {
    const XXH128_hash_t h = XXH3_128bits_digest(state_.get());
    return hexOf({h.high64, h.low64});
  }

 private:
  std::unique_ptr<XXH3_state_t, XXH_errorcode (*)(XXH3_state_t*)> state_;
};

// Gives the file to `take` in parts of `partBytes`, the last one shorter.
Status inParts(const std::string& path, std::size_t partBytes, const std::function<Status(Bytes)>& take) {
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rbe"), std::fclose);
  if (!file) return Error{Code::unreadable, path, "the file may not be read"};
  std::vector<std::byte> part(partBytes);
  while (true) {
    const std::size_t n = std::fread(part.data(), 1, part.size(), file.get());
    if (std::ferror(file.get())) return Error{Code::unreadable, path, "the file cannot be read to its end"};
    if (n > 0) HSEAM_DO(take({part.data(), n}));
    if (n < part.size()) return {};
  }
}
Status inParts(Bytes bytes, std::size_t partBytes, const std::function<Status(Bytes)>& take) {
  for (std::size_t at = 0; at < bytes.size(); at += partBytes)
    HSEAM_DO(take(bytes.subspan(at, std::min(partBytes, bytes.size() - at))));
  return {};
}

Result<bool> holds(Database& database, const std::string& key) {
  HSEAM_TRY(Statement s, database.prepare("SELECT 1 FROM source WHERE name = ?"));
  return s.bind(1, key).step();
}

// The rows of one source, part by part.
class Rows {
 public:
  Rows(Database& database, std::string key) : database_(database), key_(std::move(key)) {}
  Status add(Bytes part) {
    HSEAM_TRY(Statement s, database_.prepare("INSERT INTO source_part VALUES (?, ?, ?)"));
    HSEAM_DO(s.bind(1, key_).bind(2, bytes_).bind(3, part).run());
    bytes_ += std::int64_t(part.size());
    hash_.add(part);
    return {};
  }
  /// False: what was added is not what the key stands for.
  Result<bool> end(const std::string& fileName) {
    if (hash_.name() != key_) return false;
    HSEAM_TRY(Statement s, database_.prepare("INSERT INTO source VALUES (?, ?, ?)"));
    HSEAM_DO(s.bind(1, key_).bind(2, fileName).bind(3, bytes_).run());
    return true;
  }

 private:
  Database& database_;
  std::string key_;
  std::int64_t bytes_ = 0;
  Hashing hash_;
};

}  // namespace

const char* sourceSchema() {
  return "CREATE TABLE source (name TEXT PRIMARY KEY, file TEXT NOT NULL, bytes INTEGER NOT NULL) STRICT;"
         "CREATE TABLE source_part (name TEXT NOT NULL, at INTEGER NOT NULL, data BLOB NOT NULL, PRIMARY KEY (name, at)) STRICT;";
}

Status sourcesFromVersion2(Database& database) {
  HSEAM_DO(database.execute("ALTER TABLE source RENAME TO source_2"));
  HSEAM_DO(database.execute(sourceSchema()));
  return database.execute(
      "INSERT INTO source SELECT name, file, length(data) FROM source_2;"
      "INSERT INTO source_part SELECT name, 0, data FROM source_2 WHERE length(data) > 0;"
      "DROP TABLE source_2");
}

Result<std::string> sourceKeyOf(const std::string& path) try {
  Hashing hash;
  HSEAM_DO(inParts(path, kSourcePart, [&](Bytes part) -> Status {
    hash.add(part);
    return {};
  }));
  return hash.name();
} catch (...) {
  return base::caught(path);
}

Result<std::string> addSource(Database& database, const std::string& path, std::size_t partBytes) {
  HSEAM_TRY(const std::string key, sourceKeyOf(path));
  HSEAM_TRY(const bool there, holds(database, key));
  if (there) return key;
  HSEAM_TRY(Transaction t, Transaction::begin(database));
  Rows rows(database, key);
  HSEAM_DO(inParts(path, partBytes, [&](Bytes part) { return rows.add(part); }));
  HSEAM_TRY(const bool whole, rows.end(std::filesystem::path(path).filename().string()));
  if (!whole) return Error{Code::unreadable, path, "the file changed while it was read"};
  HSEAM_DO(t.commit());
  return key;
}

Result<std::string> addSource(Database& database, const std::string& fileName, Bytes bytes, std::size_t partBytes) {
  Hashing hash;
  hash.add(bytes);
  const std::string key = hash.name();
  HSEAM_TRY(const bool there, holds(database, key));
  if (there) return key;
  HSEAM_TRY(Transaction t, Transaction::begin(database));
  Rows rows(database, key);
  HSEAM_DO(inParts(bytes, partBytes, [&](Bytes part) { return rows.add(part); }));
  HSEAM_TRY(const bool whole, rows.end(fileName));
  CORE_CHECK(whole);
  HSEAM_DO(t.commit());
  return key;
}

Result<std::vector<std::byte>> readSource(Database& database, const std::string& key, std::int64_t version) {
  const Error missing{Code::corrupt, database.path(), "a source file is missing from the project"};
  HSEAM_TRY(Statement head, database.prepare(version == 2 ? "SELECT length(data) FROM source WHERE name = ?"
                                                          : "SELECT bytes FROM source WHERE name = ?"));
  HSEAM_TRY(const bool found, head.bind(1, key).step());
  if (!found) return missing;
  const std::int64_t bytes = head.number(0);
  HSEAM_TRY(Statement parts, database.prepare(version == 2 ? "SELECT data FROM source WHERE name = ?"
                                                           : "SELECT data FROM source_part WHERE name = ? ORDER BY at"));
  parts.bind(1, key);
  std::vector<std::byte> all;
  while (true) {
    HSEAM_TRY(const bool row, parts.step());
    if (!row) break;
    const std::vector<std::byte> part = parts.blob(0);
    all.insert(all.end(), part.begin(), part.end());
  }
  if (std::int64_t(all.size()) != bytes) return missing;
  return all;
}

Result<std::vector<Source>> sourcesOf(Database& database, std::int64_t version) {
  HSEAM_TRY(Statement s, database.prepare(version == 2 ? "SELECT name, file, length(data) FROM source ORDER BY file"
                                                       : "SELECT name, file, bytes FROM source ORDER BY file"));
  std::vector<Source> all;
  while (true) {
    HSEAM_TRY(const bool row, s.step());
    if (!row) return all;
    all.push_back({s.text(0), s.text(1), s.number(2)});
  }
}

}  // namespace hseam::store
