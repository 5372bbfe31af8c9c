#pragma once
// Shots of a disc for a batch: "shot 0.png" and so on, each of another colour, and "near.png", a selection 2 px off.

#include <QTemporaryDir>
#include <algorithm>
#include <cmath>

#include "core/image/picture_file.h"
#include "pictures.h"

namespace hseam::test {

inline void writeShots(const QTemporaryDir& into, int count) {
  const auto disc = [](double x, double y) { return std::clamp(60 - std::hypot(x - 110, y - 90) + 0.5, 0.0, 1.0); };
  for (int n = 0; n < count; ++n) {
    must(image::writeTiled(into.filePath(QStringLiteral("shot %1.png").arg(n)).toStdString(),
                           picture(220, 180, 3, [&](int x, int y, int c) {
                             const double a = disc(x, y);
                             return a * (c == n % 3 ? 190 : 60) + (1 - a) * 225 + (x * 5 + y * 11) % 7;
                           })));
  }
  must(image::writeTiled(into.filePath(QStringLiteral("near.png")).toStdString(),
                         picture(220, 180, 1, [&](int x, int y, int) { return disc(x + 2, y) * 255; })));
}

}  // namespace hseam::test
