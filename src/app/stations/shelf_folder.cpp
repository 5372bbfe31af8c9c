#include "app/stations/shelf_folder.h"

#include <QStandardPaths>

namespace hseam::app {

store::Shelf ownShelf() {
  return store::Shelf(
      (QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/shelf")).toStdString());
}

}  // namespace hseam::app
