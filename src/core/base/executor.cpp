#include "core/base/executor.h"

#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <atomic>
#include <optional>

namespace hseam::base {
namespace {

class Pool final : public Executor {
 public:
  explicit Pool(int threads) : arena_(threads > 0 ? threads : tbb::task_arena::automatic) {
    // Without leave, oneTBB starts no more threads than there are cores, however many are asked for.
    if (threads > 0) allowed_.emplace(tbb::global_control::max_allowed_parallelism, std::size_t(threads));
  }
  void forEach(int count, const std::function<void(int)>& body) override {
    if (count <= 0) return;
    // The library's own ordering is invisible to ThreadSanitizer: this says again that all bodies end before the return.
    std::atomic<int> ended{0};
    arena_.execute([&] {
      tbb::parallel_for(
          0, count,
          [&](int i) {
            body(i);
            ended.fetch_add(1, std::memory_order_release);
          },
          tbb::simple_partitioner{});
    });
    static_cast<void>(ended.load(std::memory_order_acquire));
  }
  int threads() const override { return arena_.max_concurrency(); }

 private:
  std::optional<tbb::global_control> allowed_;
  tbb::task_arena arena_;
};

}  // namespace

std::unique_ptr<Executor> makePool(int threads) {
  return std::make_unique<Pool>(threads);
}

}  // namespace hseam::base
