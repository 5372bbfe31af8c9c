#pragma once
// Undo without end: the scenes themselves, which share all that did not change between them.

#include <cstdint>
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::scene {

struct Step {
  Scene scene;
  std::string label;      // what led here; of the first step: how the scene began
  std::int64_t atMs = 0;  // when, ms since 1970; 0: not known
};

/// A value. Step 0 is the beginning.
class History {
 public:
  explicit History(Step first) : steps_{std::move(first)} {}
  /// All steps and the place of the current one; current must be a step.
  History(std::vector<Step> steps, int current) : steps_(std::move(steps)), current_(current) {
    CORE_CHECK(current_ >= 0 && current_ < int(steps_.size()));
  }
  const Scene& scene() const { return steps_[std::size_t(current_)].scene; }
  int current() const { return current_; }
  int count() const { return int(steps_.size()); }
  const Step& step(int i) const { return steps_[std::size_t(i)]; }
  bool canUndo() const { return current_ > 0; }
  bool canRedo() const { return current_ + 1 < count(); }
  /// Drops what could be redone and goes on from the current step.
  void push(Step step) {
    steps_.resize(std::size_t(current_) + 1);
    steps_.push_back(std::move(step));
    ++current_;
  }
  void goTo(int step) {
    CORE_CHECK(step >= 0 && step < count());
    current_ = step;
  }

 private:
  std::vector<Step> steps_;
  int current_ = 0;
};

}  // namespace hseam::scene
