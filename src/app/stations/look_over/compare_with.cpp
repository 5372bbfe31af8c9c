#include "app/stations/look_over/compare_with.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

CompareWith::CompareWith(Desk& desk)
    : Page(desk, {"compare", tr("What it is compared with"), tr("Its surroundings, or what you mark on the picture")}),
      brush_(
          desk.session, desk.messages, [this] { return target(); },
          [] { return tr("mark what it shall be like; the right button takes away"); }),
      told_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(told_);
  size_ =
      new ValueField(tr("size"), {4, 2000, 200, 0, tr("px"), false}, tr("Diameter of the tip, px of the scene (Alt + wheel)"));
  const auto take = [this](double v) { brush_.tip.sizePx = v; };
  connect(size_, &ValueField::changing, this, take);
  connect(size_, &ValueField::changed, this, take);
  brush_.tip = {200, 1, 1};
  brush_.pressure = paint::Pressure::none;
  brush_.tipChanged = [this] { size_->setValue(brush_.tip.sizePx); };
  column->addWidget(size_);
  around_ = button(tr("What is around it"), tr("Takes the marks away: it is compared with its surroundings again"), [this] {
    desk_.session.apply(scene::SetReference{desk_.session.active(), {}});
  });
  column->addWidget(around_);
}

const scene::PictureContent* CompareWith::picture() const {
  const scene::Layer* l = scene::findLayer(desk_.session.shown(), desk_.session.active());
  return l ? l->picture() : nullptr;
}

std::optional<Brush::Target> CompareWith::target() const {
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  if (!p) return std::nullopt;
  const image::TiledImage before =
      p->reference.isNull() ? image::uniformCoverage(desk_.session.scene().canvas, 0, desk_.session.memory()) : p->reference;
  return Brush::Target{
      before, {}, 255, 0, true, [id = l->id](const image::TiledImage& painted) { return scene::SetReference{id, painted}; }, {}};
}

void CompareWith::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  if (const auto* p = picture(); p && !p->reference.isNull())
    overlay_.paint(painter, p->reference, toWidget, widget, LabelOverlay::Style::outline);
}

QString CompareWith::words() const {
  const auto* p = picture();
  return p && !p->reference.isNull() ? tr("what is marked") : tr("around it");
}

void CompareWith::refresh() {
  const auto* p = picture();
  size_->setEnabled(p);
  around_->setEnabled(p && !p->reference.isNull());
  told_->setText(!p ? tr("Choose a cut-out in the sheet.")
                 : p->reference.isNull()
                     ? tr("It is read against what is around it and against the whole scene. Drag over what it shall be like: "
                          "something in the same light, as far away.")
                     : tr("Its tones, colours, grain and sharpness are read against what is marked alone."));
}

}  // namespace hseam::app
