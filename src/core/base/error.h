#pragma once
// Errors as values. See CONVENTIONS.md.

#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace hseam::base {

/// A code says what a caller can do about the error, not where it happened.
enum class Code {
  notFound,       // the file or item does not exist
  unreadable,     // it exists, but this program may not or cannot read it
  corrupt,        // it can be read, but makes no sense
  limitExceeded,  // larger than this program takes
  unsupported,    // valid, but of a kind this program does not know
  unwritable,     // the place cannot be written: read-only, full, gone
  outOfMemory,
  cancelled,  // the user stopped it
  conflict,   // it contradicts what is there already
  invalid,    // a value given is outside its range
  failed,     // a library failed; its message is in the detail
};

/// A short stable word for logs and `--json` ("notFound").
const char* codeName(Code code);

struct Error {
  Code code = Code::invalid;
  std::string where;   // file, layer or key it happened to
  std::string detail;  // what happened, in one sentence without a full stop
  std::string text() const { return where.empty() ? detail : where + ": " + detail; }
};

/// Ends the program with a message; the project file has every finished Edit already.
[[noreturn]] void checkFailed(const char* condition, const char* file, int line);

#define CORE_CHECK(condition) ((condition) ? static_cast<void>(0) : ::hseam::base::checkFailed(#condition, __FILE__, __LINE__))

template <class T>
class [[nodiscard]] Result {
 public:
  Result(T value) : held_(std::in_place_index<0>, std::move(value)) {}
  Result(Error error) : held_(std::in_place_index<1>, std::move(error)) {}
  bool ok() const { return held_.index() == 0; }
  explicit operator bool() const { return ok(); }
  T& value() & {
    CORE_CHECK(ok());
    return *std::get_if<0>(&held_);
  }
  const T& value() const& {
    CORE_CHECK(ok());
    return *std::get_if<0>(&held_);
  }
  T&& value() && {
    CORE_CHECK(ok());
    return std::move(*std::get_if<0>(&held_));
  }
  T& operator*() & { return value(); }
  const T& operator*() const& { return value(); }
  T* operator->() { return &value(); }
  const T* operator->() const { return &value(); }
  const Error& error() const {
    CORE_CHECK(!ok());
    return *std::get_if<1>(&held_);
  }

 private:
  std::variant<T, Error> held_;
};

template <>
class [[nodiscard]] Result<void> {
 public:
  Result() = default;
  Result(Error error) : error_(std::move(error)) {}
  bool ok() const { return !error_; }
  explicit operator bool() const { return ok(); }
  const Error& error() const {
    CORE_CHECK(error_.has_value());
    return *error_;
  }

 private:
  std::optional<Error> error_;
};

using Status = Result<void>;

Error noMemory(std::string where = {});
/// The error for an exception that this code or a library threw: `catch (...) { return caught(path); }`. Only within a catch
/// block. Its code is outOfMemory or failed.
Error caught(std::string where = {});

#define HSEAM_JOIN_(a, b) a##b
#define HSEAM_JOIN(a, b) HSEAM_JOIN_(a, b)
/// HSEAM_TRY(auto x, f()): x is the value of f(), or the enclosing function returns f()'s error.
#define HSEAM_TRY(declaration, expression)                                             \
  auto HSEAM_JOIN(tried_, __LINE__) = (expression);                                    \
  if (!HSEAM_JOIN(tried_, __LINE__).ok()) return HSEAM_JOIN(tried_, __LINE__).error(); \
  declaration = std::move(HSEAM_JOIN(tried_, __LINE__)).value()
/// HSEAM_DO(f()): the enclosing function returns f()'s error if it has one.
#define HSEAM_DO(expression) \
  if (auto tried = (expression); !tried.ok()) return tried.error()

}  // namespace hseam::base
