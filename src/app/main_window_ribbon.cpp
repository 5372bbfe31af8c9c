#include <QPainter>

#include "app/main_window.h"
#include "app/stations/cut_out/cut_out.h"
#include "app/stations/look_over/look_over.h"

namespace hseam::app {
namespace {

// The part of a picture whose bend fills an area, by a mesh of places in it.
QRectF unbent(const Unbend& unbend, const QRectF& area) {
  constexpr int kMesh = 16;
  QRectF out;
  for (int i = 0; i <= kMesh; ++i) {
    for (int k = 0; k <= kMesh; ++k) {
      const auto at = unbend({area.x() + area.width() * i / kMesh, area.y() + area.height() * k / kMesh});
      if (at) out = out.united(QRectF(at->x - 2, at->y - 2, 4, 4));
    }
  }
  return out;
}

}  // namespace

void MainWindow::wireRibbon() {
  connect(ribbon_, &SeamRibbon::markMoved, canvas_, qOverload<>(&QWidget::update));
  connect(ribbon_, &SeamRibbon::goTo, this, [this](QPointF place) { canvas_->lookAt(shownFromRibbon(place), 1); });
  connect(ribbon_, &SeamRibbon::stretchMarked, this,
          [this](const matte::MarkedStretch& mark) { cutOut_->shapeEdge().take(mark); });
}

// In Cut out over the ground, in Look over in the scene; elsewhere it is folded away.
void MainWindow::refreshRibbon(const View& view) {
  const bool cutting = currentStation() == kCutOut, looking = currentStation() == kLookOver;
  const scene::Layer* l = desk_.session.activeLayer();
  canvas_->setOverlay([this, marks = cutting || looking](QPainter& p, const QTransform& t, const QRect& r) {
    stations_[std::size_t(currentStation())]->paintOver(p, t, r);
    if (marks) drawMark(p, t);
  });
  const bool cut = l && l->picture() && l->mask.acts();
  ribbon_->setVisible((view.onlyLayer.value != 0 && !view.uncut) || (looking && cut));
  const base::Affine m = l ? layerToShown(*l, view) : base::Affine{};
  ribbonToShown_ = QTransform(m.a, m.c, m.b, m.d, m.e, m.f);
  ribbonBend_ = l && l->picture() && view.onlyLayer != l->id ? l->picture()->warp : nullptr;
  ribbonOf_ = l && l->picture() ? l->picture()->source.size() : base::Size{};
  const bool marking = cutting && cutOut_->marksStretches();
  ribbon_->setMarking(marking);
  ribbon_->setMark(marking ? cutOut_->shapeEdge().mark() : std::nullopt);
  ribbon_->setBrush(cutting ? cutOut_->maskBrush() : nullptr);
  ribbon_->setFindings(findingsOnEdge());
  ribbon_->look(view.ground.kind == Ground::Kind::flat ? view.ground.colour : std::array<double, 3>{0.5, 0.5, 0.5});
}

// px of the layer → px of the shown scene, through the layer's bend where it is shown bent.
QPointF MainWindow::shownFromRibbon(QPointF place) const {
  if (!ribbonBend_) return ribbonToShown_.map(place);
  const base::Point bent = scene::mapped(*ribbonBend_, ribbonOf_, {place.x(), place.y()});
  return ribbonToShown_.map(QPointF(bent.x, bent.y));
}

// What was found along the active layer's cut, in px of the layer.
std::vector<SeamRibbon::Found> MainWindow::findingsOnEdge() const {
  std::vector<SeamRibbon::Found> out;
  const scene::Layer* l = desk_.session.activeLayer();
  const auto& report = lookOver_->watch().report();
  const auto* p = l ? l->picture() : nullptr;
  const auto back = p ? p->placement.toScene(p->source.size()).inverse() : std::nullopt;
  if (!report || !back) return out;
  const Unbend unbend = unbendShown(*l, {});
  for (const findings::Verdict& v : report->findings) {
    const findings::Kind& kind = findings::kindOf(v.kind);
    if (v.layer != l->id || !(kind.alongTheEdge || v.kind == findings::KindId::leftovers)) continue;
    const base::Rect in = base::boundsOf(*back, v.region.grown(2));
    const QRectF area(in.x, in.y, in.width, in.height);
    out.push_back({QString::fromUtf8(kind.name), unbend ? unbent(unbend, area) : area});
  }
  return out;
}

// The place that the ribbon's pointer is at: a knot with four stitches.
void MainWindow::drawMark(QPainter& painter, const QTransform& toWidget) const {
  const auto at = ribbon_->isVisible() ? ribbon_->marked() : std::nullopt;
  if (!at) return;
  const QPointF c = toWidget.map(shownFromRibbon(*at));
  painter.setRenderHint(QPainter::Antialiasing);
  for (const auto& [colour, wide] : {std::pair(QColor(Qt::black), 4.0), std::pair(QColor(Qt::white), 2.0)}) {
    painter.setPen(QPen(colour, wide, Qt::SolidLine, Qt::RoundCap));
    for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
      painter.drawLine(c + d * 6, c + d * 14);
  }
}

}  // namespace hseam::app
