#pragma once
// What the canvas shows at a place of the scene.

#include "app/window.h"

namespace hseam::test {

inline QRgb shownAt(Window& w, double x, double y) {
  const QPoint p = w.at(x, y);
  return w.canvas().grab().toImage().pixel(p);
}
inline bool grey(QRgb c) {
  return qRed(c) == qGreen(c) && qGreen(c) == qBlue(c);
}

}  // namespace hseam::test
