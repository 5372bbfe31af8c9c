#pragma once
// A folder with a disc on a ground, its trimap, a mask and a scene description, and hseam run on them.

#include <QFile>
#include <QTemporaryDir>

#include "cli/ran.h"
#include "core/image/picture_file.h"
#include "pictures.h"

namespace hseam::test {

class CliFiles : public QObject {
 protected:
  CliFiles() {
    write(QStringLiteral("disc.png"), picture(300, 240, 3, [](int x, int y, int c) {
            const double a = std::clamp(80 - std::hypot(x - 150.0, y - 120.0) + 0.5, 0.0, 1.0);
            return a * (c == 0 ? 210 : 70) + (1 - a) * (c == 2 ? 140 : 90) + (x * 5 + y * 3) % 7;
          }));
    write(QStringLiteral("trimap.png"), picture(300, 240, 1, [](int x, int y, int) {
            const double r = std::hypot(x - 150.0, y - 120.0);
            return r < 70 ? 255 : (r > 90 ? 0 : 128);
          }));
    write(QStringLiteral("mask.png"), picture(300, 240, 1, [](int x, int, int) { return x < 150 ? 255 : 0; }));
    text(QStringLiteral("scene.json"), R"({"canvas": {"width": 400, "height": 300}, "layers": [
      {"name": "back", "image": "disc.png"},
      {"name": "front", "image": "disc.png", "mask": "mask.png", "position": [80, 40], "scale": 0.5, "opacity": 0.5, "blend": "multiply"},
      {"name": "look", "adjust": "levels", "middle": 1.2, "clip": true}]})");
  }
  QString at(const QString& name) const { return dir_.filePath(name); }
  void text(const QString& name, const QByteArray& content) const {
    QFile f(at(name));
    if (!f.open(QIODevice::WriteOnly) || f.write(content) != content.size()) qFatal("cannot write a test file");
  }
  void write(const QString& name, const image::TiledImage& i) const { must(image::writeTiled(at(name).toStdString(), i, 95)); }
  image::Raster<std::uint8_t> read8(const QString& name) {
    const auto file = must(image::readCoverage(at(name).toStdString(), memory(), here()));
    return must(image::read8(file, 0, base::Rect::of(file.size())));
  }
  QTemporaryDir dir_;
};

}  // namespace hseam::test
