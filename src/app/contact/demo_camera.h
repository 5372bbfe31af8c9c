#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>

namespace hseam::app {

/// Stands in for a camera that sends its shots to a folder while one works: the demo's photographs come one after the other, each
/// whole when it appears, named as cameras name theirs. UI thread only.
class DemoCamera : public QObject {
  Q_OBJECT

 public:
  explicit DemoCamera(QObject* parent = nullptr);
  /// Empties the folder of earlier shots of its own, or makes it, and begins. msBetween: of two shots.
  void begin(const QString& folder, int msBetween = 1500);
  void end() { next_.stop(); }
  bool shoots() const { return next_.isActive(); }
  /// The demo's photographs, in the order in which they come.
  static QStringList shots();

 signals:
  void shot(const QString& path);
  void ended();
  /// The folder cannot be written: why. It has ended.
  void refused(const QString& why);

 private:
  void shoot();
  QTimer next_;
  QString folder_;
  QStringList left_;
  int number_ = 0;
};

}  // namespace hseam::app
