#pragma once
// The one door to threads. Core functions take an Executor&; tests may run them inline.

#include <functional>
#include <memory>
#include <stop_token>
#include <utility>

namespace hseam::base {

class Executor {
 public:
  virtual ~Executor() = default;
  /// Calls body(0) … body(count − 1), in any order, maybe at once; returns when all are done. body may throw std::bad_alloc and
  /// nothing else; it is rethrown here once no body runs any more.
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

/// Runs work on another executor until a stop is requested. Bodies that have not begun by then are skipped, so the result is
/// incomplete: the caller checks the token and discards it. The other executor must outlive this one.
class StoppableExecutor final : public Executor {
 public:
  StoppableExecutor(Executor& other, std::stop_token stop) : other_(other), stop_(std::move(stop)) {}
  void forEach(int count, const std::function<void(int)>& body) override {
    other_.forEach(count, [&](int i) {
      if (!stop_.stop_requested()) body(i);
    });
  }
  int threads() const override { return other_.threads(); }

 private:
  Executor& other_;
  std::stop_token stop_;
};

/// A pool of `threads` workers (0 = as many as the machine has cores). Calls from inside the pool do not oversubscribe.
std::unique_ptr<Executor> makePool(int threads);

}  // namespace hseam::base
