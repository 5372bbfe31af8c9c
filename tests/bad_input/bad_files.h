#pragma once
// Good files of every kind and ways to spoil them.

#include <zip.h>

#include <QByteArray>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include "core/deliver/layered.h"
#include "core/image/picture_file.h"
#include "core/store/project_file.h"
#include "core/store/scene_description.h"
#include "inks.h"
#include "pictures.h"
#include "raw_file.h"

namespace hseam::test {

inline void put(const QString& path, const QByteArray& bytes) {
  QFile f(path);
  if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size()) qFatal("cannot write %s", qPrintable(path));
}
inline QByteArray get(const QString& path) {
  QFile f(path);
  if (!f.open(QIODevice::ReadOnly)) qFatal("cannot read %s", qPrintable(path));
  return f.readAll();
}

/// A small good file of a kind, by its ending.
inline QByteArray goodFile(const QString& ending, const QTemporaryDir& dir) {
  const QString path = dir.filePath(QStringLiteral("good.") + ending);
  const std::string p = path.toStdString();
  QFile::remove(path);
  if (ending == QStringLiteral("dng")) {
    writeRaw(p, 64, 48, [](int x, int y) { return 3000 + x * 40 + y * 30; });
  } else if (ending == QStringLiteral("ora") || ending == QStringLiteral("hseam")) {
    scene::Scene s;
    s.canvas = {300, 280};
    for (std::uint64_t i = 1; i <= 2; ++i) {
      scene::Layer l;
      l.id = {i};
      l.name = "layer";
      scene::PictureContent c;
      c.source = picture(300, 280, 3, [i](int x, int y, int k) { return (x * int(i) + y * 3 + k * 50) % 256; });
      l.content = std::move(c);
      s.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
    }
    if (ending == QStringLiteral("ora")) {
      must(deliver::exportLayered(s, p, here(), {}));
    } else {
      must(must(store::ProjectFile::create(p, s, "new", memory(), here())).file->close());
    }
  } else {
    must(image::writeTiled(p, picture(300, 200, ending == QStringLiteral("png") ? 4 : 3,
                                      [](int x, int y, int c) { return (x * 3 + y * 7 + c * 40 + (x * y) % 31) % 256; })));
  }
  return get(path);
}

inline QByteArray bigEndian(quint32 v) {
  QByteArray b;
  for (int i = 3; i >= 0; --i) b += char(v >> (8 * i) & 255);
  return b;
}
/// CRC-32 of PNG chunks (ISO 3309).
inline quint32 crcOf(const QByteArray& bytes) {
  quint32 c = 0xffffffffu;
  for (const char b : bytes) {
    c ^= quint8(b);
    for (int k = 0; k < 8; ++k) c = c & 1 ? 0xedb88320u ^ (c >> 1) : c >> 1;
  }
  return c ^ 0xffffffffu;
}
inline QByteArray pngChunk(const QByteArray& type, const QByteArray& data) {
  return bigEndian(quint32(data.size())) + type + data + bigEndian(crcOf(type + data));
}
/// A PNG that says it is width × height, with what is given as its compressed data.
inline QByteArray png(quint32 width, quint32 height, char depth, char colourType, const QByteArray& compressed,
                      const QByteArray& before = {}) {
  return QByteArray("\x89PNG\r\n\x1a\n", 8) +
         pngChunk("IHDR",
                  bigEndian(width) + bigEndian(height) + QByteArray(1, depth) + QByteArray(1, colourType) + QByteArray(3, '\0')) +
         before + pngChunk("IDAT", compressed) + pngChunk("IEND", {});
}

/// A zip of named texts.
inline QByteArray zipOf(const QList<std::pair<QByteArray, QByteArray>>& files, const QTemporaryDir& dir) {
  const QString path = dir.filePath(QStringLiteral("made.zip"));
  QFile::remove(path);
  int problem = 0;
  zip_t* z = zip_open(path.toStdString().c_str(), ZIP_CREATE | ZIP_TRUNCATE, &problem);
  for (const auto& [name, bytes] : files)
    zip_file_add(z, name.constData(), zip_source_buffer(z, bytes.constData(), zip_uint64_t(bytes.size()), 0), ZIP_FL_ENC_UTF_8);
  zip_close(z);
  return get(path);
}

}  // namespace hseam::test
