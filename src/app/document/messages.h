#pragma once

#include <QObject>
#include <QString>

namespace hseam::app {

/// What is told to the user, by whoever has something to say; shown by the window.
class Messages : public QObject {
  Q_OBJECT

 public:
  using QObject::QObject;

 signals:
  void said(const QString& sentence);     // for the status line
  void refused(const QString& sentence);  // an error, shown until dismissed
};

}  // namespace hseam::app
