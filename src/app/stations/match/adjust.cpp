#include "app/stations/match/adjust.h"

#include <QCheckBox>
#include <QLabel>
#include <QVBoxLayout>

#include "app/stations/match/adjustment_shelves.h"
#include "app/widgets/builders.h"

namespace hseam::app {

AddAdjustment::AddAdjustment(Desk& desk)
    : Page(desk, {"add-adjustment", tr("Add an adjustment"),
                  tr("A layer that changes tones or colours of what lies below, with a mask of its own")}) {
  auto* c = column();
  auto* confined = new QCheckBox(tr("confine to the active layer"));
  confined->setChecked(true);
  confined->setToolTip(tr("The adjustment acts on the active layer alone; else on everything below it"));
  c->addWidget(confined);
  for (QWidget* row : shelves([this, confined](const scene::Adjustment& a) { add(a, confined->isChecked()); })) c->addWidget(row);
  c->addWidget(quietLabel(tr("Empty its mask and paint it in where it is wanted, or paint it out where it is not.")));
}

void AddAdjustment::add(const scene::Adjustment& adjustment, bool confined) {
  scene::Layer l;
  l.id = scene::freeId(desk_.session.scene());
  l.name = std::string(scene::adjustmentName(adjustment)) +
           (confined && desk_.session.activeLayer() ? " on " + desk_.session.activeLayer()->name : "");
  l.content = scene::AdjustmentContent{adjustment};
  const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
  l.clip = confined && at.has_value();
  if (desk_.session.apply(scene::AddLayer{std::move(l), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1}))
    emit added();
}

Adjust::Adjust(Desk& desk)
    : Page(desk, {"adjust", tr("Adjust"), tr("The controls of the active adjustment layer")}),
      editors_(new AdjustEditors(desk.session, desk.messages, desk.aside)) {
  column()->addWidget(editors_);
}

QString Adjust::words() const {
  const auto* a = desk_.session.activeLayer() ? desk_.session.activeLayer()->adjustment() : nullptr;
  return a ? tr(scene::adjustmentName(a->adjustment)) : tr("none chosen");
}

}  // namespace hseam::app
