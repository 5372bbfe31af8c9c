#pragma once

#include <QStringList>

class QWidget;

namespace hseam::app {

/// Asks where to write; the path ends in one of `endings` (".jpg"), in the first if none was typed. An existing file is named
/// only after the user agreed to replace it, whatever was typed. Empty: the user thought better of it.
QString askWhereToWrite(QWidget* parent, const QString& title, const QString& suggested, const QStringList& endings,
                        const QString& filter);

}  // namespace hseam::app
