#pragma once

#include <span>

#include "core/base/executor.h"
#include "core/image/tiled_image.h"

namespace hseam::paint {

struct Sample {
  base::Point at;  // px of the painted picture
  double pressure = 1;
};

/// A stroke in the making on a grey8 picture, whatever its tip. One thread.
class Drawing {
 public:
  virtual ~Drawing() = default;
  /// Goes from the last sample to each of these in turn; the very first touches down. Returns the px that may have changed.
  virtual base::Result<base::Rect> to(std::span<const Sample> samples, base::Executor& executor) = 0;
  /// The picture as painted so far.
  virtual const image::TiledImage& image() const = 0;
};

}  // namespace hseam::paint
