#pragma once
// Eyes get used to a picture: it notices pauses, and when none was made for long.

#include <QObject>

namespace hseam::app {

/// Hears every key and click of the application. The window's thread.
class Rest : public QObject {
  Q_OBJECT

 public:
  static constexpr qint64 kPauseMs = 20 * 60 * 1000;  // so long away counts as a pause
  static constexpr qint64 kLongMs = 45 * 60 * 1000;   // so long at it is long

  explicit Rest(QObject* parent = nullptr);
  /// Kept in the settings; at first it does.
  static bool reminds();
  static void setReminds(bool reminds);
  /// Something was done at this time (ms since 1970).
  void noteActivity(qint64 nowMs);

 signals:
  void cameBack(int minutesAway);
  void longAtIt(int minutes);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  qint64 began_ = 0, last_ = 0, told_ = 0;
};

}  // namespace hseam::app
