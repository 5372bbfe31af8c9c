#pragma once

#include <QPainterPath>
#include <array>

class QPainter;

namespace hseam::app {

/// How often each tone is there, dark to light, 0..1.
using Histogram = std::array<float, 128>;

/// Along the foot of the field, as wide as it; closed: to be filled.
QPainterPath histogramOutline(const Histogram& histogram, const QRectF& field, bool closed);
/// The field of an editor of tones: its ground, the tones as they are now (filled) and those of the scene below (line).
void paintTones(QPainter& painter, const QRectF& ground, const QRectF& field, const Histogram& now, const Histogram& below);
/// The ring that tells which widget the keys go to.
void paintFocus(QPainter& painter, const QRectF& ground);

}  // namespace hseam::app
