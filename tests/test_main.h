#pragma once

#include <QTest>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/error.h"

namespace hseam::test {

struct TestClass {
  const char* name;
  std::function<std::unique_ptr<QObject>()> make;
};
std::vector<TestClass>& registry();

template <class T>
struct Registered {
  explicit Registered(const char* name) {
    registry().push_back({name, [] { return std::make_unique<T>(); }});
  }
};

/// The value, or the end of the program with the error's text: for what a test takes for granted.
template <class T>
T must(base::Result<T> result) {
  if (!result.ok()) qFatal("%s", result.error().text().c_str());
  return std::move(result).value();
}
inline void must(const base::Status& status) {
  if (!status.ok()) qFatal("%s", status.error().text().c_str());
}

}  // namespace hseam::test

/// Once for each test class; CTest runs each class by itself, in parallel (tests/CMakeLists.txt reads these lines).
#define HSEAM_TEST(Class) static const hseam::test::Registered<Class> registered##Class(#Class)
