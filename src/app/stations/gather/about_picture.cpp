#include "app/stations/gather/about_picture.h"

#include <QDateTime>
#include <QFormLayout>
#include <QLabel>
#include <QLocale>
#include <cmath>

#include "app/widgets/builders.h"
#include "core/tasks/fits.h"
#include "core/tasks/ready.h"

namespace hseam::app {
namespace {

QString text(const std::string& s) {
  return QString::fromStdString(s);
}
QString number(double v, int digits) {
  return QLocale().toString(v, 'g', digits);
}

// "f/2.8 · 1/125 s · ISO 400", what is known of it.
QString exposureWords(const image::Metadata& m) {
  QStringList words;
  if (m.aperture > 0) words << QObject::tr("f/%1").arg(number(m.aperture, 3));
  if (m.exposureS > 0)
    words << (m.exposureS < 0.3 ? QObject::tr("1/%1 s").arg(std::lround(1 / m.exposureS))
                                : QObject::tr("%1 s").arg(number(m.exposureS, 3)));
  if (m.iso > 0) words << QObject::tr("ISO %1").arg(m.iso);
  return words.join(QStringLiteral(" · "));
}

using Rows = QList<std::pair<QString, QString>>;

Rows rowsOf(const scene::PictureContent& p) {
  const image::Metadata& m = p.about;
  const base::Size size = p.source.size();
  Rows rows{{QObject::tr("File"), text(p.sourceName)},
            {QObject::tr("Size"), QObject::tr("%1 × %2 px, %3 megapixels")
                                      .arg(size.width)
                                      .arg(size.height)
                                      .arg(QLocale().toString(double(size.width) * size.height / 1e6, 'f', 1))}};
  if (!m.camera.empty()) rows.append({QObject::tr("Camera"), text(m.camera)});
  if (!m.lens.empty()) rows.append({QObject::tr("Lens"), text(m.lens)});
  if (m.focalMm > 0) {
    QString focal = QObject::tr("%1 mm").arg(number(m.focalMm, 4));
    if (m.focal35Mm > 0) focal += QObject::tr(", as %1 mm on 24 × 36").arg(number(m.focal35Mm, 4));
    rows.append({QObject::tr("Focal length"), focal});
  }
  if (const QString e = exposureWords(m); !e.isEmpty()) rows.append({QObject::tr("Exposure"), e});
  if (!m.takenAt.empty()) {
    const QDateTime at = QDateTime::fromString(text(m.takenAt), QStringLiteral("yyyy:MM:dd HH:mm:ss"));
    rows.append({QObject::tr("Taken"), at.isValid() ? QLocale().toString(at, QLocale::ShortFormat) : text(m.takenAt)});
  }
  if (!m.title.empty()) rows.append({QObject::tr("Title"), text(m.title)});
  if (!m.creator.empty()) rows.append({QObject::tr("Made by"), text(m.creator)});
  if (!m.rights.empty()) rows.append({QObject::tr("Rights"), text(m.rights)});
  return rows;
}

QString tintWords(const measure::Cast& light) {
  if (!light.available) return QObject::tr("can't tell");
  if (std::hypot(light.a, light.b) < 3) return QObject::tr("white");
  return QObject::tr("%1%2 a*, %3%4 b*")
      .arg(light.a < 0 ? QStringLiteral("−") : QStringLiteral("+"))
      .arg(std::abs(light.a), 0, 'f', 0)
      .arg(light.b < 0 ? QStringLiteral("−") : QStringLiteral("+"))
      .arg(std::abs(light.b), 0, 'f', 0);
}

// What its pixels say.
Rows measuredRows(const scene::Scene& s, scene::LayerId picture) {
  base::InlineExecutor here;
  Rows rows;
  const auto numbers = tasks::readyNumbers(s, picture, false, here, {});
  const auto facts = tasks::shotFactsOf(s, picture, {});
  const auto alone = tasks::pictureByItself(s, picture, false);
  if (!numbers.ok() || !facts.ok() || !alone.ok()) return rows;
  const auto told = [](const measure::Reading& r, double times, const QString& unit) {
    return r.available ? QStringLiteral("%1 %2").arg(QLocale().toString(r.value * times, 'f', 1), unit)
                       : QObject::tr("can't tell");
  };
  rows.append({QObject::tr("Middle tone"), QObject::tr("L* %1").arg(numbers->midL, 0, 'f', 0)});
  if (const auto cut = tasks::cutOffShares(*alone, here); cut.ok())
    rows.append({QObject::tr("Clipped"),
                 QObject::tr("shadows %1 %, highlights %2 %")
                     .arg(QLocale().toString(100 * cut->black, 'f', 1), QLocale().toString(100 * cut->white, 'f', 1))});
  rows.append({QObject::tr("Blur"), told(numbers->blurPx, 1, QObject::tr("px"))});
  rows.append({QObject::tr("Grain"), told(numbers->grain, 255, QObject::tr("of 255"))});
  rows.append({QObject::tr("Light"), tintWords(numbers->light)});
  if (facts->lightDeg)
    rows.append({QObject::tr("Light from"), QObject::tr("%1°, clockwise from above").arg(std::round(*facts->lightDeg))});
  rows.append({QObject::tr("Horizon"),
               facts->horizon ? QObject::tr("%1 px from the top").arg(std::round(*facts->horizon * facts->size.height))
                              : QObject::tr("can't tell")});
  return rows;
}

}  // namespace

AboutPicture::AboutPicture(Desk& desk)
    : Page(desk, {"about", tr("About this picture"),
                  tr("What the camera wrote into the file, whose picture it is, and what is measured of it")}),
      rows_(new QFormLayout(this)) {
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setRowWrapPolicy(QFormLayout::WrapLongRows);
}

QString AboutPicture::words() const {
  return activePicture() ? exposureWords(activePicture()->about) : QString();
}

void AboutPicture::refresh() {
  const scene::PictureContent* picture = activePicture();
  const std::pair stamp(picture ? picture->source.stamp() : 0, picture ? desk_.session.activeLayer()->mask.coverage.stamp() : 0);
  if (stamp == shown_ && rows_->rowCount() > 0) return;
  shown_ = stamp;
  while (rows_->rowCount() > 0) rows_->removeRow(0);
  if (!picture) {
    rows_->addRow(quietLabel(tr("Choose a picture's card in the sheet: what its camera wrote is listed here.")));
    return;
  }
  for (const auto& [name, value] : rowsOf(*picture))
    addRow(name, value, tr("From the picture's file; can be selected and copied"));
  if (picture->about == image::Metadata{}) rows_->addRow(quietLabel(tr("The file says nothing about a camera or its maker.")));
  desk_.aside.ask<Rows>(
      {tr("Measure the picture"), QStringLiteral("about measured")},
      [s = desk_.session.scene(), id = desk_.session.active()] { return measuredRows(s, id); },
      [this, stamp](const Rows& rows) {
        if (stamp != shown_) return;
        for (const auto& [name, value] : rows) addRow(name, value, tr("Measured from its pixels; can be selected and copied"));
      });
}

void AboutPicture::addRow(const QString& name, const QString& value, const QString& tip) {
  auto* label = new QLabel(value);
  label->setWordWrap(true);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  label->setAccessibleName(name);
  label->setToolTip(tip);
  rows_->addRow(name, label);
}

}  // namespace hseam::app
