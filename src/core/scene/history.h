#pragma once
// Unlimited undo: holds the scenes, which share all that did not change between them. Steps of an opened project are read on
// demand.

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::scene {

/// A step without its scene.
struct StepHead {
  std::string label;      // what led here; of the first step: how the scene began
  std::string kind = {};  // of the Edit, as editKind says; empty: not known
  std::int64_t atMs = 0;  // when, ms since 1970; 0: not known
};

struct Step {
  Scene scene;
  std::string label;
  std::int64_t atMs = 0;
  std::string kind = {};
};

/// A value. Step 0 is the beginning. One thread at a time.
class History {
 public:
  /// What a step's scene was. Any thread. Errors: what reading says.
  using ReadStep = std::function<base::Result<Scene>(int step)>;

  explicit History(Step first);
  /// Steps whose scenes are read when they are asked for, and the current one; current must be a step.
  History(std::vector<StepHead> steps, int current, Scene now, ReadStep read);

  const Scene& scene() const { return *steps_[std::size_t(current_)].scene; }
  int current() const { return current_; }
  int count() const { return int(steps_.size()); }
  const StepHead& step(int i) const { return steps_[std::size_t(i)].head; }
  /// Errors: what reading says. What was read is not held.
  base::Result<Scene> sceneOf(int step) const;
  bool canUndo() const { return current_ > 0; }
  bool canRedo() const { return current_ + 1 < count(); }
  /// Adds a step after the current one; steps that could be redone are dropped.
  void push(Step step);
  /// Changes nothing if it fails. The ids of layers of dropped or later steps stay used up. Errors: what reading says.
  base::Status goTo(int step);

 private:
  struct Kept {
    StepHead head;
    std::optional<Scene> scene;  // nothing: in the file
  };
  std::vector<Kept> steps_;
  int current_ = 0;
  LayerId highest_;
  ReadStep read_;
};

}  // namespace hseam::scene
