#pragma once
// A value that its copies share until one of them is changed.

#include <memory>
#include <utility>

namespace hseam::base {

/// Copying costs a pointer. A default-constructed one reads as a default-constructed T. Threads: as std::shared_ptr; copies may
/// be read on any thread.
template <class T>
class SharedValue {
 public:
  SharedValue() = default;
  SharedValue(T value) : value_(std::make_shared<const T>(std::move(value))) {}
  const T& operator*() const {
    static const T nothing{};
    return value_ ? *value_ : nothing;
  }
  const T* operator->() const { return &**this; }
  /// Unshares the value and returns it to be changed, before the next copy is made. Copies a T.
  T& edit() {
    auto own = std::make_shared<T>(**this);
    T& changed = *own;
    value_ = std::move(own);
    return changed;
  }

 private:
  std::shared_ptr<const T> value_;
};

}  // namespace hseam::base
