#include "app/stations/match/carry_over.h"

#include <QComboBox>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/render/canvas_change.h"
#include "core/scene/look.h"

namespace hseam::app {
CarryOver::CarryOver(Desk& desk)
    : Page(desk, {"carry", tr("Carry over"), tr("Give the active layer what another one has: its mask, its adjustments")}),
      from_(new QComboBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  from_->setAccessibleName(tr("Layer to take from"));
  from_->setToolTip(tr("The layer whose mask or adjustments the active layer gets"));
  column->addWidget(from_);
  mask_ = button(tr("Its mask"), tr("The active layer gets a mask that covers the same places of the scene"),
                 [this] { carryMask(); });
  adjustments_ = button(tr("Its adjustments"), tr("Copies of the adjustments confined to it, confined to the active layer"),
                        [this] { carryAdjustments(); });
  column->addWidget(rowOf({mask_, adjustments_}));
  connect(from_, &QComboBox::activated, this, [this] { refresh(); });
}

const scene::Layer* CarryOver::from() const {
  return scene::findLayer(desk_.session.scene(), {from_->currentData().toULongLong()});
}

void CarryOver::refresh() {
  const qulonglong chosen = from_->currentData().toULongLong();
  QStringList names;
  from_->clear();
  for (const auto& l : scene::allLayers(desk_.session.scene())) {
    if (l->id == desk_.session.active()) continue;
    if (l->mask.coverage.isNull() && scene::adjustmentsOf(desk_.session.scene(), l->id).empty()) continue;
    from_->insertItem(0, tr("from %1").arg(QString::fromStdString(l->name)), qulonglong(l->id.value));
    if (l->id.value == chosen) from_->setCurrentIndex(0);
  }
  const int kept = from_->findData(chosen);
  from_->setCurrentIndex(kept >= 0 ? kept : 0);
  const scene::Layer* l = from();
  from_->setEnabled(l);
  if (!l) from_->addItem(tr("no other layer has a mask or adjustments"));
  mask_->setEnabled(l && desk_.session.activeLayer() && !l->mask.coverage.isNull());
  adjustments_->setEnabled(l && desk_.session.activeLayer() && !scene::adjustmentsOf(desk_.session.scene(), l->id).empty());
}

void CarryOver::carryMask() {
  const scene::Layer* l = from();
  if (!l || !desk_.session.activeLayer()) return;
  const scene::Layer to = *desk_.session.activeLayer();
  desk_.jobs.start<image::TiledImage>(
      tr("Carry the mask of %1").arg(QString::fromStdString(l->name)),
      [s = desk_.session.scene(), source = *l, to](base::Executor& e, const base::Progress&) {
        return render::maskCarried(s, source, to, e);
      },
      [this, from = desk_.session.scene(), id = to.id, name = l->name](const image::TiledImage& mask) {
        desk_.session.applyResult(scene::SetMask{id, mask, "as of " + name}, from);
      });
}

void CarryOver::carryAdjustments() {
  const scene::Layer* l = from();
  const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
  if (!l || !at) return;
  scene::Several all{"adjustments as of " + l->name, {}};
  scene::LayerId free = scene::freeId(desk_.session.scene());
  int index = at->index + 1;
  for (const auto& a : scene::adjustmentsOf(desk_.session.scene(), l->id)) {
    scene::Layer copy = *a;
    copy.id = free;
    ++free.value;
    copy.clip = true;
    copy.name = std::string(scene::adjustmentName(a->adjustment()->adjustment)) + " on " + desk_.session.activeLayer()->name;
    all.edits.push_back({scene::AddLayer{std::move(copy), at->parent, index++}});
  }
  desk_.session.apply(all);
}

}  // namespace hseam::app
