#pragma once
// A fault at every place where one can be, one after the other.

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include "../render/scenes.h"
#include "faults.h"

namespace hseam::test {

inline constexpr long kMostTries = 4000;

inline scene::Scene smallScene() {
  scene::Scene s;
  s.canvas = {300, 60};
  scene::Layer front = pictureLayer(2, colours(300, 60, 5, 4));
  front.mask.coverage = disc(300, 60);
  s.layers = {ref(pictureLayer(1, colours(300, 60, 1))), ref(front)};
  return s;
}

inline QByteArray bytesOf(const QString& path) {
  QFile f(path);
  return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray("unreadable");
}

inline void kinds() {
  QTest::addColumn<int>("kind");
  QTest::newRow("memory runs out") << int(faults::Kind::memory);
  QTest::newRow("the disk fails once") << int(faults::Kind::fileOnce);
  QTest::newRow("the disk is full from there on") << int(faults::Kind::fileOn);
}

class EveryFault : public QObject {
 protected:
  QTemporaryDir dir_;
  QString in(const QString& name) const { return dir_.filePath(name); }

  // For N = 1, 2, …: `prepare`, the fault, `act`, `look(failed)`; until the fault does not happen any more. Returns how often it
  // did.
  long everyFault(faults::Kind kind, const std::function<void()>& prepare, const std::function<base::Status()>& act,
                  const std::function<void(bool failed)>& look) {
    long n = 1;
    for (; n < kMostTries; ++n) {
      prepare();
      faults::arm(kind, n, dir_.path().toStdString());
      const base::Status done = act();
      const bool happened = faults::disarm();
      if (!done.ok() && done.error().detail.size() < 12) qFatal("an error without words: %s", done.error().text().c_str());
      if (!done.ok() && kind == faults::Kind::memory && done.error().code != base::Code::outOfMemory)
        qFatal("not told as a lack of memory: %s", done.error().text().c_str());
      if (!happened && !done.ok()) qFatal("an error without a fault: %s", done.error().text().c_str());
      look(!done.ok());
      if (QTest::currentTestFailed() || !happened) return n - 1;
    }
    return n;
  }

  void empty() {
    for (const QString& name : QDir(dir_.path()).entryList(QDir::Files | QDir::Hidden)) QFile::remove(in(name));
  }
};

}  // namespace hseam::test
