#include "core/scene/history.h"

#include <algorithm>

namespace hseam::scene {

History::History(Step first) {
  highest_ = highestIdOf(first.scene);
  steps_.push_back({{std::move(first.label), std::move(first.kind), first.atMs}, std::move(first.scene)});
}

History::History(std::vector<StepHead> steps, int current, Scene now, ReadStep read)
    : current_(current), highest_(highestIdOf(now)), read_(std::move(read)) {
  CORE_CHECK(current_ >= 0 && current_ < int(steps.size()));
  steps_.reserve(steps.size());
  for (StepHead& head : steps) steps_.push_back({std::move(head), std::nullopt});
  steps_[std::size_t(current_)].scene = std::move(now);
}

base::Result<Scene> History::sceneOf(int step) const {
  CORE_CHECK(step >= 0 && step < count());
  const Kept& kept = steps_[std::size_t(step)];
  if (kept.scene) return *kept.scene;
  return read_(step);
}

void History::push(Step step) {
  steps_.resize(std::size_t(current_) + 1);
  highest_.value = std::max(highest_.value, highestIdOf(step.scene).value);
  steps_.push_back({{std::move(step.label), std::move(step.kind), step.atMs}, std::move(step.scene)});
  ++current_;
}

base::Status History::goTo(int step) {
  HSEAM_TRY(Scene there, sceneOf(step));
  there.highestId.value = std::max(highest_.value, there.highestId.value);
  steps_[std::size_t(step)].scene = std::move(there);
  current_ = step;
  return {};
}

}  // namespace hseam::scene
