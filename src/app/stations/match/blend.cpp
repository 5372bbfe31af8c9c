#include "app/stations/match/blend.h"

#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

Blend::Blend(Desk& desk)
    : Page(desk, {"blend", tr("Blend"), tr("How the active layer meets what lies below it")}),
      mode_(new QComboBox),
      opacity_(new ValueField(tr("opacity"), {0, 100, 100, 0, tr("%"), true}, tr("How strongly the layer shows"))),
      tones_(new TonePatch) {
  auto* c = column();
  for (int i = 0; i < scene::kBlendModeCount; ++i) mode_->addItem(QString::fromLatin1(scene::blendModeName(scene::BlendMode(i))));
  mode_->setAccessibleName(tr("Blend mode"));
  mode_->setToolTip(
      tr("Multiply darkens, screen lightens, overlay and soft-light add contrast, color and luminosity take one part of the "
         "colour each"));
  connect(mode_, &QComboBox::activated, this, [this](int i) {
    desk_.session.apply(scene::SetMode{desk_.session.active(), scene::BlendMode(i)});
  });
  c->addWidget(namedRow(tr("blend mode"), mode_));
  connect(opacity_, &ValueField::changing, this, [this](double v) {
    desk_.session.draft(scene::SetOpacity{desk_.session.active(), v / 100});
  });
  connect(opacity_, &ValueField::changed, this, [this](double v) {
    desk_.session.apply(scene::SetOpacity{desk_.session.active(), v / 100});
  });
  c->addWidget(opacity_);
  connect(tones_, &TonePatch::changing, this, [this](const scene::ToneRange& s) {
    desk_.session.draft(scene::SetShows{desk_.session.active(), s});
  });
  connect(tones_, &TonePatch::changed, this, [this](const scene::ToneRange& s) {
    desk_.session.apply(scene::SetShows{desk_.session.active(), s});
  });
  c->addWidget(quietLabel(tr("Shows by brightness:")));
  c->addWidget(tones_);
}

QString Blend::words() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? QStringLiteral("%1 %2 %").arg(QLatin1String(scene::blendModeName(l->mode))).arg(l->opacity * 100, 0, 'f', 0)
           : QString();
}

void Blend::refresh() {
  const scene::Layer* l = desk_.session.activeLayer();
  for (QWidget* w : std::initializer_list<QWidget*>{mode_, opacity_, tones_}) w->setEnabled(l);
  if (!l) return;
  mode_->setCurrentIndex(int(l->mode));
  opacity_->setValue(l->opacity * 100);
  tones_->setShows(l->shows);
}

}  // namespace hseam::app
