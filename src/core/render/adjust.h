#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <mutex>
#include <vector>

#include "core/render/planes.h"
#include "core/scene/adjustment.h"

namespace hseam::render {

/// An adjustment made ready for many pixels; differs from scene::AdjustmentFunction by less than 1/1000, and by less than
/// 1/20000 where a curve bends no more sharply than a smooth one does.
class BakedAdjustment {
 public:
  explicit BakedAdjustment(const scene::Adjustment& adjustment);
  /// One after another. If they are several, each acts by channel (scene::actsByChannel): they become one table.
  explicit BakedAdjustment(std::vector<scene::Adjustment> steps);
  /// Colour planes only; in and out may be the same.
  void apply(const Planes& in, Planes& out) const;
  /// The pixels from … end − 1 alone; both are multiples of 16.
  void applyTo(const Planes& in, Planes& out, int from, int end) const;
  const std::vector<scene::Adjustment>& steps() const { return steps_; }

 private:
  void bakeChannels(const std::vector<scene::Adjustment>& steps);

  std::vector<scene::Adjustment> steps_;
  std::function<void(const Planes&, Planes&, int, int)> run_;  // what mixes channels, after the tables if there are any
  std::vector<std::int32_t>
      tables_[3];  // at k / 2048: value · 65535 above, half the way to the next below; empty if nothing acts by channel
  std::size_t tableOf_[3] = {0, 1, 2};
};

/// One after another, in place, by parts that stay near the processor.
void applyAll(const std::vector<std::shared_ptr<const BakedAdjustment>>& adjustments, Planes& planes);

/// Baking costs more than a tile, so the latest few are kept. Any thread.
class BakedAdjustments {
 public:
  std::shared_ptr<const BakedAdjustment> of(const std::vector<const scene::Adjustment*>& steps);

 private:
  std::mutex mutex_;
  std::vector<std::shared_ptr<const BakedAdjustment>> kept_;  // the longest unused first
};

}  // namespace hseam::render
