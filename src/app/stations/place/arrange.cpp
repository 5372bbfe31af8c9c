#include "app/stations/place/arrange.h"

#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

Arrange::Arrange(Desk& desk)
    : Page(desk, {"line-up", tr("Line up"), tr("By marked places, by their sides, at equal distances, or by their differences")}),
      tool_([this] {
        marked_ = desk_.session.active();
        refresh();
        emit changed();
      }),
      told_(quietLabel({})),
      differences_(new QCheckBox(tr("see the differences from below"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(told_);
  match_ = button(tr("Match the marks"), tr("Sets the active picture so that every marked place lies where its arrow ends"),
                  [this] { take(scene::matchedTo(desk_.session.scene(), desk_.session.active(), tool_.marks())); });
  column->addWidget(rowOf({match_, button(tr("Marks away"), tr("All arrows go"), [this] { tool_.clear(); })}));
  const auto side = [this](const QString& name, const QString& tip, scene::Side s) {
    return button(name, tip, [this, s] { take(scene::aligned(desk_.session.scene(), desk_.session.inHand(), s)); });
  };
  column->addWidget(quietLabel(tr("Pictures in hand line up with the active one:")));
  column->addWidget(rowOf({side(tr("Left"), tr("Left sides on one line"), scene::Side::left),
                           side(tr("Middle"), tr("Middles above each other"), scene::Side::middle),
                           side(tr("Right"), tr("Right sides on one line"), scene::Side::right)}));
  column->addWidget(rowOf({side(tr("Top"), tr("Upper sides on one line"), scene::Side::top),
                           side(tr("Centre"), tr("Middles beside each other"), scene::Side::centre),
                           side(tr("Foot"), tr("Lower sides on one line"), scene::Side::bottom)}));
  const auto spread = [this](const QString& name, const QString& tip, bool across) {
    return button(name, tip, [this, across] { take(scene::distributed(desk_.session.scene(), desk_.session.inHand(), across)); });
  };
  column->addWidget(rowOf({spread(tr("Even across"), tr("Middles at equal distances from left to right"), true),
                           spread(tr("Even down"), tr("Middles at equal distances from top to bottom"), false)}));
  differences_->setToolTip(tr("Where the active layer fits what lies below it, the picture turns black; nothing is changed"));
  connect(differences_, &QCheckBox::clicked, this, &Arrange::changed);
  column->addWidget(differences_);
}

void Arrange::take(const base::Result<scene::Edit>& edit) {
  if (!edit.ok()) {
    emit desk_.messages.said(QString::fromStdString(edit.error().detail));
    return;
  }
  if (desk_.session.apply(*edit) && marked_ == desk_.session.active()) tool_.clear();
}

void Arrange::changeView(View& view) const {
  if (differences_->isChecked()) view.differenceOf = desk_.session.active();
}

QString Arrange::words() const {
  return tool_.marks().empty() ? QString() : tr("%1 marks").arg(tool_.marks().size());
}

void Arrange::refresh() {
  const std::size_t n = tool_.marks().size();
  const bool enough = n == 1 || n == 2 || n == 4;
  match_->setEnabled(enough && desk_.session.activeLayer() && desk_.session.activeLayer()->picture());
  constexpr const char* kWords[] = {"Drag arrows on the picture: from a place of the active picture to where it must lie.",
                                    "One arrow moves. A second one turns and scales as well.",
                                    "Two arrows move, turn and scale. Four bend it onto a wall or a sign.",
                                    "A fourth arrow is needed to bend it.",
                                    "Four arrows bend it as a flat thing seen from another side."};
  told_->setText(tr(kWords[std::min<std::size_t>(n, 4)]));
}

}  // namespace hseam::app
