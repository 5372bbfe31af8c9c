#include "app/stations/look_over/monitor.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

const char kSetting[] = "monitor-profile";

}  // namespace

Monitor::Monitor(Desk& desk)
    : Page(desk, {"monitor", tr("Your monitor"), tr("Its colour profile, so that the canvas shows the colours as they are")}),
      name_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  name_->setAccessibleName(tr("The monitor's profile"));
  column->addWidget(name_);
  column->addWidget(rowOf({
      button(tr("Choose its profile…"),
             tr("The ICC file that was made when the monitor was measured; only what is shown goes through it"),
             [this] {
               const QString path =
                   QFileDialog::getOpenFileName(this, tr("The monitor's profile"), QStringLiteral("/usr/share/color/icc"),
                                                tr("Colour profiles (*.icc *.icm)"));
               if (!path.isEmpty()) choose(path);
             }),
      button(tr("None"), tr("The monitor counts as sRGB"), [this] { choose({}); }),
  }));
  const QString kept = QSettings().value(QLatin1String(kSetting)).toString();
  if (kept.isEmpty() || !choose(kept)) choose({});
}

bool Monitor::choose(const QString& path) {
  std::shared_ptr<const image::DisplayTransform> next;
  if (!path.isEmpty()) {
    auto made = image::DisplayTransform::fromFile(path.toStdString());
    if (!made.ok()) {
      emit desk_.messages.refused(QString::fromStdString(made.error().text()));
      return false;
    }
    next = std::move(made).value();
  }
  transform_ = std::move(next);
  path_ = path;
  QSettings().setValue(QLatin1String(kSetting), path);
  name_->setText(path.isEmpty() ? tr("counts as sRGB") : QFileInfo(path).fileName());
  emit changed();
  return true;
}

}  // namespace hseam::app
