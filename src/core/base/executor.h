#pragma once
// The one door to threads. Core functions take an Executor&; tests may run them inline.

#include <functional>
#include <memory>

namespace hseam::base {

class Executor {
 public:
  virtual ~Executor() = default;
  /// Calls body(0) … body(count − 1), in any order, maybe at once; returns when all are done. The one thing body may throw
  /// is std::bad_alloc: it comes out here, once no body runs any more.
  virtual void forEach(int count, const std::function<void(int)>& body) = 0;
  virtual int threads() const = 0;
};

/// Runs everything on the calling thread, in order.
class InlineExecutor final : public Executor {
 public:
  void forEach(int count, const std::function<void(int)>& body) override {
    for (int i = 0; i < count; ++i) body(i);
  }
  int threads() const override { return 1; }
};

/// A pool of `threads` workers (0 = as many as the machine has cores). Calls from inside the pool do not oversubscribe.
std::unique_ptr<Executor> makePool(int threads);

}  // namespace hseam::base
