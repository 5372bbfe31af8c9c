#include "app/stations/cut_out/swap_part.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/other_pictures.h"
#include "app/widgets/builders.h"
#include "core/select/shape.h"

namespace hseam::app {

SwapPart::SwapPart(Desk& desk)
    : Page(desk, {"swap-part", tr("Swap a part"),
                  tr("A head, eyes, a hand or a thing of another picture takes the place of what this one shows there")}),
      outline_(
          [this](OutlineTool::Kind, const QPolygonF& o) {
            part_ = o;
            partOf_ = desk_.session.active();
            refresh();
            emit changed();
          },
          [] { return tr("draw round the part that another picture shows better"); }) {
  auto* c = column();
  c->addWidget(quietLabel(tr("Draw round the part loosely. The seam is found near your line, where both pictures agree.")));
  others_ = new QComboBox;
  others_->setAccessibleName(tr("The picture that shows the part better"));
  others_->setToolTip(tr("A picture of this scene, hidden ones too; add it in Gather, or drop it onto the window"));
  c->addWidget(namedRow(tr("from"), others_));
  align_ = new QCheckBox(tr("align the part"));
  align_->setToolTip(tr("Moves, turns and scales it onto what it replaces, by what is recognised in both"));
  tone_ = new QCheckBox(tr("match the tone"));
  tone_->setToolTip(tr("Takes out what differs in exposure and white balance round the part"));
  for (QCheckBox* box : {align_, tone_}) box->setChecked(true);
  c->addWidget(rowOf({align_, tone_}));
  swap_ = button(tr("Swap it"), tr("A layer of its own in front; both pictures stay as they are"), [this] { swap(); });
  swap_->setProperty("main", true);
  c->addWidget(swap_);
  outcome_ = quietLabel({});
  outcome_->hide();
  c->addWidget(outcome_);
  connect(&desk_.session, &Session::replaced, this, [this] {
    part_.clear();
    outcome_->hide();
  });
  refresh();
}

void SwapPart::refresh() {
  if (partOf_ != desk_.session.active()) part_.clear();
  listOtherPictures(*others_, desk_.session);
  swap_->setEnabled(!part_.isEmpty() && others_->count() > 0);
}

QString SwapPart::words() const {
  if (others_->count() == 0) return tr("add a picture");
  return part_.isEmpty() ? tr("no part yet") : QString();
}

void SwapPart::changeView(View& view) const {
  view.uncut = true;
}

void SwapPart::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  if (!part_.isEmpty()) drawStitched(painter, toWidget.map(part_), true);
}

void SwapPart::swap() {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l || !l->picture() || part_.isEmpty()) return;
  outcome_->hide();
  select::Outline round;
  for (const QPointF& p : part_) round.push_back({p.x(), p.y()});
  tasks::SwapOptions options;
  options.align = align_->isChecked();
  options.matchTone = tone_->isChecked();
  const scene::Scene from = desk_.session.scene();
  desk_.jobs.start<tasks::PartSwap>(
      tr("Swap a part"),
      [from, id = l->id, source = l->picture()->source, other = scene::LayerId{others_->currentData().toULongLong()}, round,
       options](base::Executor& executor, const base::Progress& progress) -> base::Result<tasks::PartSwap> {
        const auto nothing = image::uniformCoverage(source.size(), 0, source.memory());
        HSEAM_TRY(const image::TiledImage part, select::combined(nothing, round, select::Combine::replace, executor));
        return tasks::swapPart(from, id, part, other, options, executor, progress);
      },
      [this, from](const tasks::PartSwap& made) {
        if (!desk_.session.applyResult(made.edit, from)) return;
        part_.clear();
        tell(made);
        refresh();
        emit changed();
      });
}

void SwapPart::tell(const tasks::PartSwap& made) {
  QStringList said;
  if (made.aligned) {
    said << tr("Moved by %1 px, turned by %2°, scaled to %3 %.")
                .arg(std::hypot(made.moved.dx, made.moved.dy), 0, 'f', 1)
                .arg(std::round(made.moved.rotationDeg * 10) / 10 + 0.0, 0, 'f', 1)  // no minus before a zero
                .arg(100 * made.moved.scale, 0, 'f', 1);
  } else if (align_->isChecked()) {
    said << tr("Too little of it is recognised in both: it lies where its picture lies. Move it in Place, by arrow keys too.");
  }
  if (made.toneBefore && made.toneAfter) {
    said << tr("Tone round it: %1 off before, %2 now (CIEDE2000; 1 is just seen).")
                .arg(*made.toneBefore, 0, 'f', 1)
                .arg(*made.toneAfter, 0, 'f', 1);
  }
  if (made.adjustments > 0) said << tr("What is confined to the picture acts on the part as well.");
  outcome_->setText(said.join(QLatin1Char('\n')));
  outcome_->show();
}

}  // namespace hseam::app
