#pragma once
// Frames of a stage with one figure, and files chosen by hand.

#include <QFileDialog>
#include <QTimer>
#include <cmath>

#include "app/window.h"
#include "truth/shown_place.h"

namespace hseam::test {

inline constexpr base::Size kStage{520, 380};

inline frames::Homography driftedBy(double dx, double dy) {
  return {{1, 0, dx, 0, 1, dy, 0, 0, 1}};
}

// A figure of one colour, with its shadow, before a place.
inline image::TiledImage shotOf(const ShownPlace& place, double figureX, const frames::Homography& toBase, double stops, int seed,
                                const std::array<double, 3>& colour = {0.55, 0.07, 0.05}) {
  return place.frame(kStage,
                     {.toBase = toBase,
                      .stops = stops,
                      .before =
                          [=](double x, double y, int c) {
                            const double u = (x - figureX) / 28, v = (y - 220) / 70;
                            return u * u + v * v < 1 ? colour[std::size_t(c)] : -1.0;
                          }},
                     std::uint64_t(seed));
}

inline bool isFigure(const image::TiledImage& picture, int x, int y) {
  const auto px = must(image::read8(picture, 0, {x, y, 1, 1}));
  return int(px.at(0, 0)[0]) > 2 * int(px.at(0, 0)[1]);
}

inline QString written(const QTemporaryDir& dir, const char* name, const image::TiledImage& picture) {
  const QString path = dir.filePath(QLatin1String(name));
  must(image::writeTiled(path.toStdString(), picture));
  return path;
}
inline void chooseFiles(Window& w, const QString& button, const QStringList& files) {
  QTimer::singleShot(0, [files] {
    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
    if (!dialog) qFatal("no file dialog was opened");
    dialog->setDirectory(QFileInfo(files.first()).path());
    QString names;
    for (const QString& f : files) names += QLatin1Char('"') + QFileInfo(f).fileName() + QLatin1String("\" ");
    dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"))->setText(names);
    QMetaObject::invokeMethod(dialog, "accept", Qt::QueuedConnection);
  });
  w.click(button);
  // Keys are heard by the window that is active.
  w.get().activateWindow();
  QApplication::processEvents();
}

}  // namespace hseam::test
