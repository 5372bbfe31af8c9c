#include "app/document/rest.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QEvent>
#include <QSettings>

namespace hseam::app {
namespace {

constexpr auto kRemindsKey = "freshEyes/remindsOfPauses";

}  // namespace

Rest::Rest(QObject* parent) : QObject(parent) {
  QCoreApplication::instance()->installEventFilter(this);
}

bool Rest::reminds() {
  return QSettings().value(QLatin1String(kRemindsKey), true).toBool();
}

void Rest::setReminds(bool reminds) {
  QSettings().setValue(QLatin1String(kRemindsKey), reminds);
}

void Rest::noteActivity(qint64 now) {
  if (last_ == 0 || now < last_) began_ = told_ = last_ = now;
  const qint64 away = now - last_;
  last_ = now;
  if (away >= kPauseMs) {
    began_ = told_ = now;
    emit cameBack(int(away / 60000));
  } else if (now - told_ >= kLongMs) {
    told_ = now;
    if (reminds()) emit longAtIt(int((now - began_) / 60000));
  }
}

bool Rest::eventFilter(QObject*, QEvent* event) {
  // The window system's own events come once; what widgets hand on to each other would be counted again and again.
  if (event->spontaneous() && (event->type() == QEvent::MouseButtonPress || event->type() == QEvent::KeyPress ||
                               event->type() == QEvent::Wheel || event->type() == QEvent::TabletPress))
    noteActivity(QDateTime::currentMSecsSinceEpoch());
  return false;
}

}  // namespace hseam::app
