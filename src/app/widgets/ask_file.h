#pragma once

#include <QString>

class QWidget;

namespace hseam::app {

/// Asks where to write; the path ends in `ending` (".jpg"). An existing file is named only after the user agreed to replace it,
/// whatever was typed. Empty: the user thought better of it.
QString askWhereToWrite(QWidget* parent, const QString& title, const QString& suggested, const QString& ending,
                        const QString& filter);

}  // namespace hseam::app
