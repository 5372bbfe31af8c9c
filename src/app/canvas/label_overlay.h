#pragma once

#include <QImage>
#include <QPainter>
#include <QTransform>

#include "core/image/tiled_image.h"

namespace hseam::app {

/// Draws a grey8 picture of a layer over the canvas by pattern, never by a coloured film.
class LabelOverlay {
 public:
  enum class Style {
    outline,  // stitches along the half-way line of a selection
    band,     // hatching where undecided, dots where background, nothing where subject; stitches along the borders
    hints,    // strokes: + rows for subject, − rows for background
    frames,   // digits: which frame a place comes from; nothing where 0
    seams,    // stitches wherever one label meets another
    changes,  // what was lost hatched one way, what was gained the other way
  };
  /// toWidget: px of the picture → px of the widget, axis-parallel or turned. Kept until anything changes.
  void paint(QPainter& painter, const image::TiledImage& labels, const QTransform& toWidget, const QRect& widget, Style style);

 private:
  std::uint64_t stamp_ = 0;
  QTransform transform_;
  QRect widget_;
  Style style_ = Style::outline;
  QImage drawn_;
};

}  // namespace hseam::app
