#pragma once
// Strands stamped along the pointer's way, no two alike.

#include <functional>

#include "core/paint/dice.h"
#include "core/paint/drawing.h"
#include "core/paint/strand_tip.h"
#include "core/paint/stroke.h"

namespace hseam::paint {

struct StrandSettings {
  double lengthPx = 120;  // of a stamp at full pressure, 4..2000
  double spacing = 0.12;  // between stamps, share of the length
  double strength = 0.8;  // the most that one stamp covers, 0..1
  double sizeVaries = 0.35, angleVariesDeg = 14;
  std::uint64_t seed = 1;
  Pressure pressure = Pressure::size;
};

/// Each stamp covers a part of what is left: strands over strands become dense. The same settings and samples give the same bits.
class StrandStroke : public Drawing {
 public:
  /// Where strands point at a place, radians clockwise from the x axis (y points down); travel: the way of the stroke there.
  using Direction = std::function<double(base::Point at, double travel)>;
  /// tips: not empty; one is taken for each stamp.
  StrandStroke(image::TiledImage before, std::vector<StrandTip> tips, const StrandSettings& settings, Direction direction,
               std::uint8_t value);

  base::Result<base::Rect> to(std::span<const Sample> samples, base::Executor& executor) override;
  const image::TiledImage& image() const override { return now_; }

 private:
  base::Result<base::Rect> stamp(image::ImageEditor& editor, const Sample& at, double travel);
  image::TiledImage now_;
  std::vector<StrandTip> tips_;
  StrandSettings settings_;
  Direction direction_;
  std::uint8_t value_;
  Dice dice_;
  std::optional<Sample> last_;
  double left_ = 0;  // px until the next stamp
};

}  // namespace hseam::paint
