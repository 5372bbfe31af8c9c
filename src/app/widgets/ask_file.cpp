#include "app/widgets/ask_file.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <algorithm>

namespace hseam::app {

QString askWhereToWrite(QWidget* parent, const QString& title, const QString& suggested, const QStringList& endings,
                        const QString& filter) {
  // The dialog asks by itself before it names an existing file, but not about a name that only becomes one by its ending.
  QString path = QFileDialog::getSaveFileName(parent, title, suggested, filter);
  const bool ends =
      std::any_of(endings.begin(), endings.end(), [&](const QString& e) { return path.endsWith(e, Qt::CaseInsensitive); });
  if (path.isEmpty() || ends) return path;
  path += endings.first();
  if (!QFileInfo::exists(path)) return path;
  const auto answer =
      QMessageBox::question(parent, title, QObject::tr("%1 exists already. Replace it?").arg(QFileInfo(path).fileName()));
  return answer == QMessageBox::Yes ? path : QString();
}

}  // namespace hseam::app
