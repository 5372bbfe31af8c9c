#include "core/store/sqlite.h"

#include <sqlite3.h>

namespace hseam::store {
namespace {

using base::Code;
using base::Error;

Error errorOf(int result, sqlite3* database, const std::string& where) {
  const std::string text = database ? sqlite3_errmsg(database) : sqlite3_errstr(result);
  switch (result & 0xff) {
    case SQLITE_FULL:
      return {Code::unwritable, where, "the disk is full; free some space and go on"};
    case SQLITE_READONLY:
      return {Code::unwritable, where, "the file or its folder is read-only"};
    case SQLITE_CANTOPEN:
      return {Code::unwritable, where, "the file cannot be opened here (is its folder read-only or gone?)"};
    case SQLITE_IOERR:
      return {Code::unwritable, where, "the disk reports an error: " + text};
    case SQLITE_NOTADB:
    case SQLITE_CORRUPT:
      return {Code::corrupt, where, "this is not a whole Hidden Seam project"};
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
    case SQLITE_CONSTRAINT:
      return {Code::conflict, where, "another window or program is writing this project"};
    case SQLITE_TOOBIG:
      return {Code::limitExceeded, where, "a part of it is larger than a project file takes"};
    case SQLITE_NOMEM:
      return {Code::outOfMemory, where, "there is not enough memory"};
    default:
      return {Code::unreadable, where, text};
  }
}

std::string immutableUri(const std::string& path) {
  std::string uri = "file:";
  for (const char c : path) {
    // What a URI gives a meaning of its own (https://www.sqlite.org/uri.html).
    if (c == '%' || c == '?' || c == '#') {
      uri += c == '%' ? "%25" : (c == '?' ? "%3f" : "%23");
    } else {
      uri += c;
    }
  }
  return uri + "?immutable=1";
}

}  // namespace

void Statement::Finalize::operator()(sqlite3_stmt* s) const {
  sqlite3_finalize(s);
}
void Database::Close::operator()(sqlite3* d) const {
  sqlite3_close_v2(d);
}

Statement& Statement::bind(int at, std::int64_t value) {
  return noted(sqlite3_bind_int64(statement_.get(), at, value));
}
Statement& Statement::bind(int at, std::string_view text) {
  return noted(sqlite3_bind_text64(statement_.get(), at, text.data(), text.size(), SQLITE_TRANSIENT, SQLITE_UTF8));
}
Statement& Statement::bind(int at, std::span<const std::byte> bytes) {
  // No bytes are an empty value, not none.
  if (bytes.empty()) return noted(sqlite3_bind_zeroblob(statement_.get(), at, 0));
  return noted(sqlite3_bind_blob64(statement_.get(), at, bytes.data(), bytes.size(), SQLITE_STATIC));
}

Statement& Statement::noted(int result) {
  if (unbound_ == SQLITE_OK) unbound_ = result;
  return *this;
}

base::Result<bool> Statement::step() {
  if (unbound_ != SQLITE_OK) return errorOf(unbound_, sqlite3_db_handle(statement_.get()), where_);
  const int result = sqlite3_step(statement_.get());
  if (result == SQLITE_ROW) return true;
  if (result == SQLITE_DONE) return false;
  return errorOf(result, sqlite3_db_handle(statement_.get()), where_);
}

base::Status Statement::run() {
  auto done = step();
  reset();
  if (!done.ok()) return done.error();
  return {};
}

void Statement::reset() {
  unbound_ = SQLITE_OK;
  sqlite3_reset(statement_.get());
}
std::int64_t Statement::number(int column) const {
  return sqlite3_column_int64(statement_.get(), column);
}

std::string Statement::text(int column) const {
  const auto* t = reinterpret_cast<const char*>(sqlite3_column_text(statement_.get(), column));
  return t ? std::string(t, std::size_t(sqlite3_column_bytes(statement_.get(), column))) : std::string();
}

std::vector<std::byte> Statement::blob(int column) const {
  const auto* b = static_cast<const std::byte*>(sqlite3_column_blob(statement_.get(), column));
  return b ? std::vector<std::byte>(b, b + sqlite3_column_bytes(statement_.get(), column)) : std::vector<std::byte>();
}

base::Result<Database> Database::open(const std::string& path, Mode mode) {
  sqlite3* raw = nullptr;
  int flags = SQLITE_OPEN_NOMUTEX;
  const bool readOnly = mode == Mode::readOnly || mode == Mode::immutable;
  flags |= readOnly ? SQLITE_OPEN_READONLY : SQLITE_OPEN_READWRITE;
  if (mode == Mode::create) flags |= SQLITE_OPEN_CREATE | SQLITE_OPEN_EXCLUSIVE;
  if (mode == Mode::immutable) flags |= SQLITE_OPEN_URI;
  const int result = sqlite3_open_v2((mode == Mode::immutable ? immutableUri(path) : path).c_str(), &raw, flags, nullptr);
  Database database;
  database.database_.reset(raw);
  database.path_ = path;
  if (result != SQLITE_OK) return errorOf(result, raw, path);
  sqlite3_busy_timeout(raw, 5000);
  sqlite3_extended_result_codes(raw, 1);
  // A connection that closes brings the log in and deletes it. Where the disk is full and the log's index could not be made, it
  // finds nothing to bring in and deletes it all the same, with every step in it. So that is only done where it is asked for.
  if (!readOnly) sqlite3_db_config(raw, SQLITE_DBCONFIG_NO_CKPT_ON_CLOSE, 1, nullptr);
  return database;
}

base::Result<Statement> Database::prepare(std::string_view sql) {
  sqlite3_stmt* raw = nullptr;
  const int result = sqlite3_prepare_v3(database_.get(), sql.data(), int(sql.size()), SQLITE_PREPARE_PERSISTENT, &raw, nullptr);
  if (result != SQLITE_OK) return errorOf(result, database_.get(), path_);
  return Statement(raw, path_);
}

base::Status Database::execute(const std::string& sql) {
  const int result = sqlite3_exec(database_.get(), sql.c_str(), nullptr, nullptr, nullptr);
  if (result != SQLITE_OK) return errorOf(result, database_.get(), path_);
  return {};
}

void Database::setPatience(int ms) {
  sqlite3_busy_timeout(database_.get(), ms);
}

base::Result<std::int64_t> Database::number(std::string_view sql) {
  HSEAM_TRY(Statement s, prepare(sql));
  HSEAM_TRY(const bool row, s.step());
  return row ? s.number(0) : 0;
}

std::int64_t Database::changes() const {
  return sqlite3_changes64(database_.get());
}

std::int64_t Database::lastRow() const {
  return sqlite3_last_insert_rowid(database_.get());
}

base::Status Database::copyTo(const std::string& path) {
  HSEAM_TRY(Database target, open(path, Mode::create));
  sqlite3_backup* backup = sqlite3_backup_init(target.database_.get(), "main", database_.get(), "main");
  if (!backup) return errorOf(sqlite3_errcode(target.database_.get()), target.database_.get(), path);
  const int stepped = sqlite3_backup_step(backup, -1);
  const int finished = sqlite3_backup_finish(backup);
  if (stepped != SQLITE_DONE) return errorOf(stepped, target.database_.get(), path);
  if (finished != SQLITE_OK) return errorOf(finished, target.database_.get(), path);
  return {};
}

base::Result<Transaction> Transaction::begin(Database& database) {
  HSEAM_DO(database.execute("BEGIN IMMEDIATE"));
  return Transaction(&database);
}

Transaction::~Transaction() {
  // After an error SQLite may have rolled back by itself: then this has nothing to do, and says so to nobody.
  if (database_) static_cast<void>(database_->execute("ROLLBACK").ok());
}

base::Status Transaction::commit() {
  HSEAM_DO(database_->execute("COMMIT"));
  database_ = nullptr;
  return {};
}

}  // namespace hseam::store
