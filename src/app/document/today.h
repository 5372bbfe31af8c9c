#pragma once

#include <QDate>
#include <string>

namespace hseam::app {

/// As permissions are compared with it: "2026-12-01", local time.
inline std::string today() {
  return QDate::currentDate().toString(Qt::ISODate).toStdString();
}

}  // namespace hseam::app
