#include "core/base/executor.h"

#if defined(__SANITIZE_THREAD__)
#include <algorithm>
#include <atomic>
#include <exception>
#include <thread>
#include <vector>
#else
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <optional>
#endif

namespace hseam::base {
namespace {

#if defined(__SANITIZE_THREAD__)

// ThreadSanitizer cannot see how oneTBB, which is not built with it, orders its tasks: everything below it would be reported,
// or, suppressed, nothing. Plain threads it understands; what is checked is what the bodies do.
class Pool final : public Executor {
 public:
  explicit Pool(int threads) : threads_(threads > 0 ? threads : int(std::max(1u, std::thread::hardware_concurrency()))) {}
  void forEach(int count, const std::function<void(int)>& body) override {
    static thread_local bool inside = false;
    if (inside || count <= 1) {
      for (int i = 0; i < count; ++i) body(i);
      return;
    }
    std::atomic<int> next{0};
    std::vector<std::exception_ptr> thrown(static_cast<std::size_t>(threads_));
    std::vector<std::jthread> workers;
    for (std::exception_ptr& mine : thrown) {
      workers.emplace_back([&] {
        inside = true;
        try {
          for (int i = next.fetch_add(1); i < count; i = next.fetch_add(1)) body(i);
        } catch (...) {
          mine = std::current_exception();
          next.store(count);
        }
      });
    }
    workers.clear();
    for (const std::exception_ptr& e : thrown) {
      if (e) std::rethrow_exception(e);
    }
  }
  int threads() const override { return threads_; }

 private:
  int threads_;
};

#else

class Pool final : public Executor {
 public:
  explicit Pool(int threads) : arena_(threads > 0 ? threads : tbb::task_arena::automatic) {
    // Without leave, oneTBB starts no more threads than there are cores, however many are asked for.
    if (threads > 0) allowed_.emplace(tbb::global_control::max_allowed_parallelism, std::size_t(threads));
  }
  void forEach(int count, const std::function<void(int)>& body) override {
    if (count <= 0) return;
    arena_.execute([&] {
      tbb::parallel_for(
          0, count, [&](int i) { body(i); }, tbb::simple_partitioner{});
    });
  }
  int threads() const override { return arena_.max_concurrency(); }

 private:
  std::optional<tbb::global_control> allowed_;
  tbb::task_arena arena_;
};

#endif

}  // namespace

std::unique_ptr<Executor> makePool(int threads) {
  return std::make_unique<Pool>(threads);
}

}  // namespace hseam::base
