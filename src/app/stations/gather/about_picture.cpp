#include "app/stations/gather/about_picture.h"

#include <QDateTime>
#include <QFormLayout>
#include <QLabel>
#include <QLocale>

#include "app/widgets/builders.h"

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

QList<std::pair<QString, QString>> rowsOf(const scene::PictureContent& p) {
  const image::Metadata& m = p.about;
  const base::Size size = p.source.size();
  QList<std::pair<QString, QString>> rows{
      {QObject::tr("File"), text(p.sourceName)},
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

}  // namespace

AboutPicture::AboutPicture(Desk& desk)
    : Page(desk, {"about", tr("About this picture"), tr("What the camera wrote into the file, and whose picture it is")}),
      rows_(new QFormLayout(this)) {
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setRowWrapPolicy(QFormLayout::WrapLongRows);
}

QString AboutPicture::words() const {
  return activePicture() ? exposureWords(activePicture()->about) : QString();
}

void AboutPicture::refresh() {
  const scene::PictureContent* picture = activePicture();
  const std::uint64_t stamp = picture ? picture->source.stamp() : 0;
  if (stamp == shown_ && rows_->rowCount() > 0) return;
  shown_ = stamp;
  while (rows_->rowCount() > 0) rows_->removeRow(0);
  if (!picture) {
    rows_->addRow(quietLabel(tr("Choose a picture's card in the sheet: what its camera wrote is listed here.")));
    return;
  }
  for (const auto& [name, value] : rowsOf(*picture)) {
    auto* label = new QLabel(value);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    label->setAccessibleName(name);
    label->setToolTip(tr("From the picture's file; can be selected and copied"));
    rows_->addRow(name, label);
  }
  if (picture->about == image::Metadata{}) rows_->addRow(quietLabel(tr("The file says nothing about a camera or its maker.")));
}

}  // namespace hseam::app
