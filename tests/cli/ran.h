#pragma once
// hseam as a user runs it.

#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>

namespace hseam::test {

struct Ran {
  int code;
  QByteArray out, err;
  QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
};

inline Ran hseamCommand(const QStringList& arguments) {
  QProcess p;
  p.start(QStringLiteral(HSEAM_BIN "/hseam"), arguments);
  if (!p.waitForFinished(120'000)) return {-1, {}, "did not end"};
  return {p.exitCode(), p.readAllStandardOutput(), p.readAllStandardError()};
}

}  // namespace hseam::test
