#pragma once
// The files that pictures came from, byte for byte, in a project: in parts, since a row of the database holds 1 GB at most.

#include <cstddef>
#include <span>
#include <string>
#include <vector>

#include "core/store/sqlite.h"

namespace hseam::store {

inline constexpr std::size_t kSourcePart = 32u << 20;

struct Source {
  std::string key, file;  // the hash of its bytes; the name it had
  std::int64_t bytes = 0;
};

/// The statements that make its tables.
const char* sourceSchema();
/// From a project of version 2, where a source is one row. Inside a transaction.
base::Status sourcesFromVersion2(Database& database);

/// The hash of a file's bytes. Memory: one part. Errors: unreadable.
base::Result<std::string> sourceKeyOf(const std::string& path);
/// Keeps the file at `path`, if it is not there yet, in parts of `partBytes`; returns its key. One transaction. Errors:
/// unreadable (also if it changes while it is read), what the database says.
base::Result<std::string> addSource(Database& database, const std::string& path, std::size_t partBytes);
/// The same for bytes at hand.
base::Result<std::string> addSource(Database& database, const std::string& fileName, std::span<const std::byte> bytes,
                                    std::size_t partBytes);
/// All of it. version: of the project. Errors: corrupt (it is not there, or not whole).
base::Result<std::vector<std::byte>> readSource(Database& database, const std::string& key, std::int64_t version);
/// Ordered by file name.
base::Result<std::vector<Source>> sourcesOf(Database& database, std::int64_t version);

}  // namespace hseam::store
