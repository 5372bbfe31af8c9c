#pragma once

#include <QImage>

#include "core/image/raster.h"

namespace hseam::app {

/// 8-bit rgb or rgba (straight alpha) as a picture of its own.
inline QImage imageOf(const image::Raster<std::uint8_t>& r) {
  const auto format = r.channels() == 4 ? QImage::Format_RGBA8888 : QImage::Format_RGB888;
  return QImage(r.samples().data(), r.width(), r.height(), r.width() * r.channels(), format).copy();
}

}  // namespace hseam::app
