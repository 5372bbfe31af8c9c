#include "app/stations/cut_out/band_page.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/cut_out/cut_work.h"
#include "app/widgets/builders.h"
#include "core/matte/trimap.h"

namespace hseam::app {

BandPage::BandPage(Desk& desk)
    : SelectingPage(desk,
                    {"band", tr("Undecided band"), tr("The strip in which every pixel may be part subject, part background")}),
      brush_(
          desk.session, desk.messages, [this] { return target(); },
          [this] { return tr("undecided band of %1: left widens, right thins").arg(activeName()); }) {
  auto* c = column();
  auto* find = button(tr("Find the band"), tr("From the picture itself: thin at crisp edges, wide over strands and blur"),
                      [this] { this->find(); });
  find->setProperty("main", true);
  c->addWidget(find);
  missed_ = new Places({tr("In one place the picture's edge seems to lie further from the selection than the band reaches. Mend "
                           "the selection there."),
                        tr("In %1 places the picture's edge seems to lie further from the selection than the band reaches. Mend "
                           "the selection there."),
                        tr("Shows where the selection should be mended before the edge is solved (Ctrl+J)")});
  connect(missed_, &Places::asked, this, &BandPage::placeAsked);
  c->addWidget(missed_);
  c->addWidget(quietLabel(tr("Or one of the same width everywhere:")));
  width_ = new ValueField(tr("width"), {4, 240, 40, 0, tr("px"), false},
                          tr("Wide enough for the longest strands, as thin as possible elsewhere"));
  c->addWidget(width_);
  c->addWidget(
      button(tr("Lay the band along the selection"), tr("Replaces the band by a new one of this width"), [this] { lay(); }));
  tip_ = new ValueField(tr("tip"), {4, 600, 70, 0, tr("px"), false}, tr("Size of the tip that paints the band (Alt + wheel)"));
  const auto take = [this] { brush_.tip = {tip_->value(), 1, 1}; };
  connect(tip_, &ValueField::changed, this, take);
  take();
  brush_.tipChanged = [this] { tip_->setValue(brush_.tip.sizePx); };
  c->addWidget(tip_);
  c->addWidget(
      quietLabel(tr("Paint: left button widens the band (over strands), right button thins it.\nHatched: undecided. Dotted: "
                    "background. Plain: subject.")));
}

QString BandPage::words() const {
  const auto* p = activePicture();
  return p && !p->cutout->band.isNull() ? tr("laid") : tr("not yet");
}

void BandPage::refresh() {
  const auto* p = activePicture();
  if (missed_->count() > 0 && (!p || p->cutout->selection.stamp() != missedOf_)) showMissed({});
}

void BandPage::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  const auto* p = shownPicture();
  if (!p) return;
  if (p->cutout->band.isNull()) {
    SelectingPage::paintOver(painter, toWidget, widget);
  } else {
    bandOverlay_.paint(painter, p->cutout->band, toWidget, widget, LabelOverlay::Style::band);
  }
}

std::optional<Brush::Target> BandPage::target() const {
  const auto* p = activePicture();
  if (!p || p->cutout->band.isNull()) return std::nullopt;
  Brush::Target t;
  t.picture = p->cutout->band;
  t.left = matte::kUndecided;
  t.right = kThinned;
  t.flat = true;
  t.edit = [id = desk_.session.active(), recipe = p->cutout->recipe](const image::TiledImage& painted) {
    return scene::SetBand{id, painted, recipe};
  };
  t.settle = [this, selection = selectionOrEmpty(desk_)](const Brush::Drawn& drawn) {
    return thinnedBand(drawn.painted, selection, drawn.all, desk_.session.executor());
  };
  return t;
}

void BandPage::find() {
  findBand(desk_, [this](std::vector<base::Rect> missed) {
    emit openAsked();
    showMissed(std::move(missed));
  });
}

void BandPage::lay() {
  layBand(desk_, width_->value(), [this] {
    emit openAsked();
    showMissed({});
  });
}

// They belong to one picture and its selection.
void BandPage::showMissed(std::vector<base::Rect> places) {
  const auto* p = activePicture();
  missedOf_ = p ? p->cutout->selection.stamp() : 0;
  missed_->set(std::move(places));
}

}  // namespace hseam::app
