#pragma once
// Strokes with a round tip, swept along the pointer's path without gaps.

#include <map>
#include <memory>
#include <span>
#include <utility>
#include <vector>

#include "core/paint/drawing.h"

namespace hseam::paint {

class Sweep;

struct Tip {
  double sizePx = 60;     // diameter at full pressure, px of the painted picture, 1..4000
  double hardness = 0.6;  // share of the radius that is covered fully, 0..1; the rest falls off smoothly (never under 1 px)
  double strength = 1;    // the most that one stroke covers, 0..1
};

/// What pressure (0..1) does.
enum class Pressure { none, size, strength };

/// One stroke on a grey8 picture. Within a stroke coverage does not accumulate: every pixel takes the strongest touch of the tip
/// and moves from its value before the stroke towards `value` by that. One thread.
class Stroke : public Drawing {
 public:
  /// flat: for labels (hints, bands): a pixel takes `value` whole where it is covered by half or more.
  Stroke(image::TiledImage before, Tip tip, Pressure pressure, std::uint8_t value, bool flat);
  /// Cost: what the tip reaches and has not covered fully yet; tiles that change are copied once for all samples.
  base::Result<base::Rect> to(std::span<const Sample> samples, base::Executor& executor) override;
  base::Result<base::Rect> to(const Sample& sample, base::Executor& executor) { return to({&sample, 1}, executor); }
  const image::TiledImage& image() const override { return now_; }

 private:
  // Of one tile: the strongest touch of each pixel so far; full: 255 everywhere, there is nothing left to change.
  struct Touched {
    std::vector<std::uint8_t> strongest;
    bool full = false;
  };
  base::Result<bool> touchTile(image::ImageEditor& editor, int column, int row, const base::Rect& area, const Sweep& sweep);
  image::TiledImage before_, now_;
  std::map<std::pair<int, int>, Touched> touched_;  // by column and row
  Tip tip_;
  Pressure pressure_;
  std::uint8_t value_;
  bool flat_;
  bool down_ = false;
  Sample last_;
};

/// Coverage of a tip at a distance from its centre, 0..1, without its strength.
double tipProfile(double distancePx, double radiusPx, double hardness);

/// Every pixel `value`.
image::TiledImage filled(const image::TiledImage& coverage, std::uint8_t value);

}  // namespace hseam::paint
