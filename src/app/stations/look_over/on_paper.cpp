#include "app/stations/look_over/on_paper.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QLabel>
#include <QPushButton>
#include <QScreen>
#include <QSettings>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"
#include "core/image/colour_profile.h"

namespace hseam::app {
namespace {

const char kScreenSetting[] = "screen-px-per-inch";
constexpr double kCmPerInch = 2.54;
// The eye tells lines apart that are a sixtieth of a degree apart (20/20, Snellen).
constexpr double kEyeDeg = 1.0 / 60;

// Of a number of px per inch: what an eye so far away can still tell apart.
double tellable(double awayCm) {
  return kCmPerInch / (awayCm * std::tan(kEyeDeg * M_PI / 180));
}

}  // namespace

OnPaper::OnPaper(Desk& desk)
    : Page(desk, {"paper", tr("On paper"), tr("As it will be printed: colours, paper and size")}),
      name_(quietLabel({})),
      size_(quietLabel({})),
      intent_(new QComboBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  name_->setAccessibleName(tr("The printer's profile"));
  column->addWidget(name_);
  column->addWidget(rowOf({
      button(tr("Printer's profile…"),
             tr("The ICC file for printer, ink and paper, from the printer or its maker; only what is shown goes through it"),
             [this] {
               const QString path =
                   QFileDialog::getOpenFileName(this, tr("The printer's profile"), QStringLiteral("/usr/share/color/icc"),
                                                tr("Colour profiles (*.icc *.icm)"));
               if (!path.isEmpty()) choose(path);
             }),
      button(tr("No proof"), tr("The colours of the screen again"), [this] { choose({}); }),
  }));
  intent_->addItems({tr("keeps the impression"), tr("keeps colours that can be printed"), tr("keeps colours strong"),
                     tr("keeps colours on this paper's white")});
  intent_->setCurrentIndex(int(image::Proof::Intent::relative));
  intent_->setAccessibleName(tr("How colours are brought to the paper"));
  intent_->setToolTip(tr("The rendering intent: perceptual, relative colorimetric, saturation, absolute colorimetric"));
  connect(intent_, &QComboBox::activated, this, &OnPaper::make);
  column->addWidget(intent_);
  paper_ = new QCheckBox(tr("with the paper's own white and black"));
  paper_->setToolTip(tr("White is as dull and black as grey as they will be: look for a minute before you judge"));
  warn_ = new QCheckBox(tr("grey where the ink cannot follow"));
  warn_->setToolTip(tr("Colours outside of what this printer gives show as middle grey"));
  for (QCheckBox* c : {paper_, warn_}) {
    connect(c, &QCheckBox::clicked, this, &OnPaper::make);
    column->addWidget(c);
  }
  dpi_ = new ValueField(tr("printed at"), {20, 2400, 300, 0, tr("ppi"), false}, tr("Px of the picture to the inch"));
  away_ = new ValueField(tr("seen from"), {10, 2000, 40, 0, tr("cm"), false}, tr("How far away people stand"));
  const QScreen* screen = QGuiApplication::primaryScreen();
  const double usual = screen ? screen->physicalDotsPerInch() : 96;
  screen_ = new ValueField(tr("this screen"), {40, 600, 96, 0, tr("ppi"), false},
                           tr("Px of the screen to the inch, as it says of itself; hold a ruler to it if the size is not true"));
  screen_->setValue(QSettings().value(QLatin1String(kScreenSetting), usual).toDouble());
  for (ValueField* f : {dpi_, away_, screen_}) {
    column->addWidget(f);
    connect(f, &ValueField::changing, this, &OnPaper::refresh);
    connect(f, &ValueField::changed, this, [this, f] {
      if (f == screen_) QSettings().setValue(QLatin1String(kScreenSetting), screen_->value());
      refresh();
    });
  }
  size_->setAccessibleName(tr("Printed size"));
  column->addWidget(size_);
  column->addWidget(button(tr("Show it as large as it will be"),
                           tr("Zooms so that a centimetre on the screen is one on the paper"),
                           [this] { emit zoomAsked(screen_->value() / dpi_->value()); }));
  choose({});
}

bool OnPaper::choose(const QString& path) {
  std::vector<std::byte> bytes;
  if (!path.isEmpty()) {
    auto read = image::readProfile(path.toStdString());
    auto made = read.ok() ? image::DisplayTransform::proof({}, *read, {})
                          : base::Result<std::shared_ptr<const image::DisplayTransform>>(read.error());
    if (!made.ok()) {
      emit desk_.messages.refused(
          QString::fromStdString(base::Error{made.error().code, path.toStdString(), made.error().detail}.text()));
      return false;
    }
    bytes = std::move(read).value();
  }
  device_ = std::move(bytes);
  deviceName_ = path.isEmpty() ? QString() : QFileInfo(path).fileName();
  make();
  return true;
}

void OnPaper::setMonitor(const QString& profile) {
  if (profile == monitorPath_) return;
  monitorPath_ = profile;
  make();
}

void OnPaper::make() {
  transform_.reset();
  if (!device_.empty()) {
    const image::Proof how{image::Proof::Intent(intent_->currentIndex()), paper_->isChecked(), warn_->isChecked()};
    std::vector<std::byte> monitor;
    if (!monitorPath_.isEmpty()) {
      if (auto read = image::readProfile(monitorPath_.toStdString()); read.ok()) monitor = std::move(read).value();
    }
    auto made = image::DisplayTransform::proof(how, device_, monitor);
    if (made.ok()) {
      transform_ = std::move(made).value();
    } else {
      emit desk_.messages.refused(QString::fromStdString(made.error().text()));
    }
  }
  name_->setText(deviceName_.isEmpty() ? tr("no proof: as on the screen") : deviceName_);
  for (QWidget* w : std::initializer_list<QWidget*>{intent_, paper_, warn_}) w->setEnabled(!deviceName_.isEmpty());
  emit changed();
}

QString OnPaper::words() const {
  return deviceName_.isEmpty() ? tr("no proof") : tr("proof");
}

void OnPaper::refresh() {
  const base::Size c = desk_.session.shown().canvas;
  const double dpi = dpi_->value(), least = tellable(away_->value());
  const QString enough = dpi >= least ? tr("finer than the eye can tell from there (%1 ppi)").arg(least, 0, 'f', 0)
                                      : tr("coarser than the eye can tell from there (%1 ppi)").arg(least, 0, 'f', 0);
  size_->setText(
      tr("%1 × %2 cm; %3").arg(c.width / dpi * kCmPerInch, 0, 'f', 1).arg(c.height / dpi * kCmPerInch, 0, 'f', 1).arg(enough));
}

}  // namespace hseam::app
