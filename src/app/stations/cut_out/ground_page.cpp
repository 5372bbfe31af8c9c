#include "app/stations/cut_out/ground_page.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QVBoxLayout>

#include "core/matte/ground.h"

namespace hseam::app {
namespace {

enum GroundChoice { kAutomatic, kGreen, kGrey, kBlack, kWhite, kOwn, kWoven };

}  // namespace

GroundPage::GroundPage(Desk& desk)
    : Page(desk, {"ground", tr("Ground behind the cut"),
                  tr("What is shown behind the cut while you check its edge; never part of the picture")}),
      choice_(new QComboBox),
      ghost_(new QCheckBox(tr("faint ghost of the uncut picture"))) {
  auto* c = column();
  choice_->addItems({tr("automatic: shows this edge best"), tr("mid green"), tr("mid grey"), tr("black"), tr("white"),
                     tr("own colour…"), tr("woven: nothing behind")});
  choice_->setAccessibleName(tr("Ground behind the cut"));
  choice_->setToolTip(tr("Automatic is the colour that differs most from the colours along this edge, computed in L*a*b*"));
  connect(choice_, &QComboBox::activated, this, &GroundPage::choose);
  c->addWidget(choice_);
  ghost_->setToolTip(tr("Shows where to paint the subject back"));
  connect(ghost_, &QCheckBox::clicked, this, &Page::changed);
  c->addWidget(ghost_);
}

QString GroundPage::words() const {
  return choice_->currentText().section(QLatin1Char(':'), 0, 0);
}

void GroundPage::changeView(View& view) const {
  view.ground = chosen_;
  view.ghostOfSource = ghost_->isChecked();
}

void GroundPage::choose(int index) {
  const auto flat = [](double r, double g, double b) { return Ground{Ground::Kind::flat, {r, g, b}}; };
  switch (index) {
    case kGreen:
      chosen_ = flat(0.30, 0.60, 0.32);
      break;
    case kGrey:
      chosen_ = flat(0.5, 0.5, 0.5);
      break;
    case kBlack:
      chosen_ = flat(0, 0, 0);
      break;
    case kWhite:
      chosen_ = flat(1, 1, 1);
      break;
    case kWoven:
      chosen_ = {};
      break;
    case kOwn: {
      const QColor c =
          QColorDialog::getColor(QColor::fromRgbF(float(chosen_.colour[0]), float(chosen_.colour[1]), float(chosen_.colour[2])),
                                 this, tr("Ground behind the cut"));
      if (c.isValid()) chosen_ = flat(c.redF(), c.greenF(), c.blueF());
      break;
    }
    default:
      foundFor_ = 0;
  }
  refresh();
  emit changed();
}

void GroundPage::findAnew() {
  foundFor_ = 0;
  refresh();
}

void GroundPage::refresh() {
  const auto* p = activePicture();
  if (p && !desk_.session.activeLayer()->mask.coverage.isNull() && choice_->currentIndex() == kAutomatic && foundFor_ == 0)
    findFor(p->shown(), desk_.session.activeLayer()->mask.coverage);
}

void GroundPage::findFor(const image::TiledImage& colours, const image::TiledImage& mask) {
  foundFor_ = mask.stamp();
  desk_.aside.ask<base::Result<std::array<double, 3>>>(
      QStringLiteral("ground"), [colours, mask] { return matte::contrastingGround(colours, mask); },
      [this](const base::Result<std::array<double, 3>>& found) {
        if (!found.ok() || choice_->currentIndex() != kAutomatic) return;
        chosen_ = {Ground::Kind::flat, *found};
        emit changed();
      });
}

}  // namespace hseam::app
