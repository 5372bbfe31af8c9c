#pragma once
// The inverse of a warp.

#include <memory>
#include <mutex>
#include <vector>

#include "core/scene/warp.h"

namespace hseam::render {

/// Exact where only the corners moved; else interpolated from a grid that is computed once.
class InverseWarp {
 public:
  /// level: of the scene at which it is used; from the second on fewer places are enough.
  InverseWarp(const scene::Warp& warp, base::Size picture, int level = 0);
  /// The px of the picture that is shown at a px of the bent picture; empty outside it.
  std::optional<base::Point> at(base::Point bent) const;
  /// The same for `count` px of a row, from the middle of the px (x, y) on: toBent takes px of the row to px of the bent picture.
  /// NaN in atX: nothing.
  void row(const base::Affine& toBent, int x, int y, int count, float* atX, float* atY) const;
  /// scene::boundsOf.
  const base::Rect& bounds() const { return bounds_; }

 private:
  void fill(const std::array<base::Point, 3>& at, base::Point from, double leg);

  std::optional<std::array<double, 9>> exact_;
  base::Rect bounds_;
  double step_ = 1, left_ = 0, top_ = 0;
  int across_ = 0, down_ = 0;
  std::vector<float> x_, y_;  // NaN: nothing lies there
};

/// The latest few, made when they are needed first. Any thread.
class InverseWarps {
 public:
  std::shared_ptr<const InverseWarp> of(const std::shared_ptr<const scene::Warp>& warp, base::Size picture, int level);

 private:
  struct Kept {
    Kept(std::shared_ptr<const scene::Warp> w, base::Size p, bool c) : warp(std::move(w)), picture(p), coarse(c) {}
    std::shared_ptr<const scene::Warp> warp;
    base::Size picture;
    bool coarse;
    std::once_flag made;
    std::shared_ptr<const InverseWarp> way;
  };
  std::mutex mutex_;
  std::vector<std::shared_ptr<Kept>> kept_;
};

}  // namespace hseam::render
