#include "app/stations/judging_rows.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/stations/station.h"
#include "core/findings/tolerance_sets.h"

namespace hseam::app {

JudgingRows::JudgingRows(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk), sets_(new QComboBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  sets_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  sets_->setMinimumContentsLength(12);
  sets_->setAccessibleName(tr("Tolerances"));
  sets_->setToolTip(tr("How strictly this project is judged; kept with it"));
  for (const auto& s : findings::toleranceSets()) {
    sets_->addItem(tr(s.name), QString::fromLatin1(s.key));
    sets_->setItemData(sets_->count() - 1, tr(s.tip), Qt::ToolTipRole);
  }
  connect(sets_, &QComboBox::activated, this, [this] {
    const std::string key = sets_->currentData().toString().toStdString();
    const scene::Judging now = desk_.scene().judging ? *desk_.scene().judging : scene::Judging{};
    if (now.tolerances == key) return;
    desk_.apply(scene::SetJudging{findings::judgedBy(now, key), "tolerances: " + sets_->currentText().toStdString()});
  });
  auto* name = new QLabel(tr("Tolerances"));
  name->setBuddy(sets_);
  column->addWidget(rowOf({name, sets_}));
  again_ =
      button(tr("Look for every kind again"), tr("Takes back what was accepted, called wrong or not to be looked for"), [this] {
        scene::Judging j = desk_.scene().judging ? *desk_.scene().judging : scene::Judging{};
        j.off.clear();
        j.answered.clear();
        desk_.apply(scene::SetJudging{j, "look for every kind again"});
      });
  column->addWidget(again_);
}

void JudgingRows::refresh() {
  const scene::Judging* j = desk_.scene().judging.get();
  const QSignalBlocker blocked(sets_);
  sets_->setCurrentIndex(std::max(0, sets_->findData(QString::fromStdString(j ? j->tolerances : "usual"))));
  again_->setVisible(j && (!j->off.empty() || !j->answered.empty()));
}

}  // namespace hseam::app
