#pragma once

#include <QObject>
#include <QStringList>

namespace hseam::app {

/// The leader key (semicolon), followed by the first letters of an instrument's name, opens that instrument. Not while text
/// is being typed.
class KeyLeader : public QObject {
  Q_OBJECT

 public:
  explicit KeyLeader(QObject* parent);
  void setNames(const QStringList& names) { names_ = names; }

 signals:
  void started();
  void chosen(int index);
  void ended();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  QStringList names_;
  QString typed_;
  bool led_ = false;
};

}  // namespace hseam::app
