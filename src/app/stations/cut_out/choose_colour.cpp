#include "app/stations/cut_out/choose_colour.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>

#include "app/stations/cut_out/cut_work.h"
#include "app/theme/theme.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

constexpr int kPickRadius = 2;  // a click points at the mean of 5 × 5 px

}  // namespace

ChooseColour::ChooseColour(Desk& desk)
    : SelectingPage(desk, {"colour", tr("Choose by colour"), tr("Select what looks like the colours you click")}),
      tool_([this](QPointF at, bool further) { pick(at, further); },
            [this] {
              return samples_.empty() ? tr("click a colour of the picture")
                                      : tr("click another colour; with Shift: this one too");
            }),
      samplesShown_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(
      quietLabel(tr("Click what you want, or more easily what you do not want. Shift and a click: this colour too.")));
  samplesShown_->setAccessibleName(tr("Colours pointed at"));
  samplesShown_->setToolTip(tr("The colours that were pointed at"));
  samplesShown_->setFixedHeight(18);
  column->addWidget(samplesShown_);
  reach_ =
      new ValueField(tr("reach"), {0, 60, 10, 1, {}, true},
                     tr("How different a colour may be and still be chosen wholly (CIEDE2000: 1 is just seen, 10 is plain)"));
  shoulder_ = new ValueField(tr("shoulder"), {0, 40, 6, 1, {}, true}, tr("How softly the choice ends beyond its reach"));
  column->addWidget(reach_);
  column->addWidget(shoulder_);
  for (ValueField* f : {reach_, shoulder_}) {
    connect(f, &ValueField::changing, this, [this] { choose(false); });
    connect(f, &ValueField::changed, this, [this] { choose(true); });
  }
  joined_ = new QCheckBox(tr("joined region"));
  joined_->setToolTip(tr("Only what hangs together with the places that were clicked; else everywhere"));
  unwanted_ = new QCheckBox(tr("is not wanted"));
  unwanted_->setToolTip(tr("What was pointed at is background: everything else is chosen"));
  for (QCheckBox* b : {joined_, unwanted_}) connect(b, &QCheckBox::clicked, this, [this] { choose(true); });
  column->addWidget(rowOf({joined_, unwanted_}));
  combine_ = new QComboBox;
  combine_->addItems({tr("starts anew"), tr("adds"), tr("takes away"), tr("keeps the overlap")});
  combine_->setAccessibleName(tr("What the choice does to the selection"));
  combine_->setToolTip(tr("Takes away: the choice keeps out of it. Keeps the overlap: the choice stays inside the selection"));
  connect(combine_, &QComboBox::activated, this, [this] { choose(true); });
  column->addWidget(
      rowOf({combine_, button(tr("Forget"), tr("Begin with other colours; the selection stays"), [this] { forget(); })}));
  forget();
}

void ChooseColour::forget() {
  samples_.clear();
  seeds_.clear();
  before_ = {};
  samplesShown_->setText(tr("no colour yet"));
  emit changed();
}

void ChooseColour::refresh() {
  const scene::Layer* l = desk_.session.activeLayer();
  setEnabled(l && l->picture());
  const scene::LayerId now = l ? l->id : scene::LayerId{};
  if (now == layer_) return;
  layer_ = now;
  if (!samples_.empty()) forget();
}

QString ChooseColour::words() const {
  return samples_.empty() ? tr("none yet") : tr("%n colour(s)", nullptr, int(samples_.size()));
}

void ChooseColour::pick(QPointF at, bool further) {
  const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  if (!p) return;
  const auto colour = select::colourAround(p->source, {at.x(), at.y()}, kPickRadius);
  if (!colour.ok()) {
    emit desk_.messages.said(QString::fromStdString(colour.error().detail));
    return;
  }
  if (!further || samples_.empty()) {
    samples_.clear();
    seeds_.clear();
    before_ = selectionOrEmpty(desk_);
  }
  samples_.push_back(*colour);
  seeds_.push_back({at.x(), at.y()});
  QPixmap swatches(int(samples_.size()) * 22, 16);
  swatches.fill(Qt::transparent);
  QPainter painter(&swatches);
  for (std::size_t i = 0; i < samples_.size(); ++i)
    painter.fillRect(int(i) * 22, 0, 18, 16,
                     QColor::fromRgbF(float(samples_[i][0]), float(samples_[i][1]), float(samples_[i][2])));
  painter.end();
  samplesShown_->setPixmap(swatches);
  choose(true);
  emit changed();
}

void ChooseColour::choose(bool keep) {
  const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  if (!p || samples_.empty()) return;
  select::ColourReach o{samples_, reach_->value(), shoulder_->value(), {}, unwanted_->isChecked()};
  if (joined_->isChecked()) o.joinedTo = seeds_;
  constexpr select::Combine kWays[] = {select::Combine::replace, select::Combine::add, select::Combine::takeAway,
                                       select::Combine::overlap};
  using Chosen = base::Result<image::TiledImage>;
  desk_.aside.ask<Chosen>(
      QStringLiteral("choose by colour"),
      [source = p->source, o, before = before_, how = kWays[combine_->currentIndex()]]() -> Chosen {
        base::InlineExecutor here;
        HSEAM_TRY(const image::TiledImage chosen, select::chosenByColour(source, o, here, {}));
        if (how == select::Combine::replace) return chosen;
        const base::Rect whole = base::Rect::of(chosen.size());
        HSEAM_TRY(const auto part, image::read8(chosen, 0, whole));
        return select::combined(before, whole, part, how, here);
      },
      [this, keep, id = desk_.session.active()](const Chosen& chosen) {
        if (!chosen.ok()) {
          emit desk_.messages.refused(QString::fromStdString(chosen.error().text()));
          return;
        }
        const scene::SetSelection edit{id, *chosen, "by colour"};
        keep ? static_cast<void>(desk_.session.apply(edit)) : desk_.session.draft(edit);
      });
}

}  // namespace hseam::app
