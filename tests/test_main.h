#pragma once

#include <QTest>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/error.h"

namespace hseam::test {

using MakeTest = std::function<std::unique_ptr<QObject>()>;
std::vector<MakeTest>& registry();

template <class T>
struct Registered {
  Registered() {
    registry().push_back([] { return std::make_unique<T>(); });
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

#define HSEAM_TEST(Class) static const hseam::test::Registered<Class> registered##Class
