#pragma once
// The little of SQLite that the project file needs, with errors as values.

#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"

struct sqlite3;
struct sqlite3_stmt;

namespace hseam::store {

/// One prepared statement. Parameters count from 1, columns from 0. One thread at a time. A value that cannot be bound (larger
/// than the database takes: limitExceeded) is told by the next step() or run().
class Statement {
 public:
  Statement& bind(int at, std::int64_t value);
  Statement& bind(int at, std::string_view text);
  /// The bytes must live until the statement is run.
  Statement& bind(int at, std::span<const std::byte> bytes);
  /// True: a row is there; false: done.
  base::Result<bool> step();
  /// Runs to the end and makes ready for the next use.
  base::Status run();
  void reset();
  std::int64_t number(int column) const;
  std::string text(int column) const;
  std::vector<std::byte> blob(int column) const;

 private:
  friend class Database;
  struct Finalize {
    void operator()(sqlite3_stmt* s) const;
  };
  Statement(sqlite3_stmt* s, std::string where) : statement_(s), where_(std::move(where)) {}
  Statement& noted(int result);
  std::unique_ptr<sqlite3_stmt, Finalize> statement_;
  std::string where_;
  int unbound_ = 0;  // the first error of binding
};

class Database {
 public:
  enum class Mode { create, readWrite, readOnly, immutable };
  /// create: fails if the file exists. immutable: reads a file that nobody can write, without a lock or a log beside it.
  /// A connection that may write leaves the log as it is when it closes: what is to be in the file is brought in before.
  /// One thread at a time.
  static base::Result<Database> open(const std::string& path, Mode mode);
  base::Result<Statement> prepare(std::string_view sql);
  base::Status execute(const std::string& sql);
  /// How long a lock of another connection is waited for; 5000 ms when it is opened.
  void setPatience(int ms);
  base::Result<std::int64_t> number(std::string_view sql);
  /// The live database, whole and consistent, into a new file.
  base::Status copyTo(const std::string& path);
  std::int64_t changes() const;
  /// The number of the row inserted last.
  std::int64_t lastRow() const;
  const std::string& path() const { return path_; }

 private:
  struct Close {
    void operator()(sqlite3* d) const;
  };
  std::unique_ptr<sqlite3, Close> database_;
  std::string path_;
};

/// Rolls back unless committed.
class Transaction {
 public:
  static base::Result<Transaction> begin(Database& database);
  Transaction(Transaction&& o) noexcept : database_(std::exchange(o.database_, nullptr)) {}
  Transaction& operator=(Transaction&&) = delete;
  ~Transaction();
  base::Status commit();

 private:
  explicit Transaction(Database* d) : database_(d) {}
  Database* database_;
};

}  // namespace hseam::store
