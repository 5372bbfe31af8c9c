#include <QPainter>
#include <set>

#include "app/main_window.h"
#include "app/stations/cut_out.h"
#include "app/stations/look_over.h"

namespace hseam::app {

void MainWindow::wireRibbon() {
  connect(ribbon_, &SeamRibbon::markMoved, canvas_, qOverload<>(&QWidget::update));
  connect(ribbon_, &SeamRibbon::goTo, this, [this](QPointF place) { canvas_->lookAt(ribbonToShown_.map(place), 1); });
  connect(ribbon_, &SeamRibbon::stretchMarked, this,
          [this](const matte::MarkedStretch& mark) { cutOut_->shapeEdge().take(mark); });
}

// In Cut out over the ground, in Look over in the scene; elsewhere it is folded away.
void MainWindow::refreshRibbon(const View& view) {
  const bool cutting = currentStation() == kCutOut, looking = currentStation() == kLookOver;
  const scene::Layer* l = desk_.active();
  canvas_->setOverlay(cutting || looking ? [this, cutting](QPainter& p, const QTransform& t, const QRect& r) {
    cutting ? cutOut_->paintOver(p, t, r) : lookOver_->paintOver(p, t, r);
    drawMark(p, t);
  } : std::function<void(QPainter&, const QTransform&, const QRect&)>());
  const bool cut = l && l->picture() && l->mask.acts();
  ribbon_->setVisible((view.onlyLayer.value != 0 && !view.uncut) || (looking && cut));
  const base::Affine m = l ? layerToShown(*l, view) : base::Affine{};
  ribbonToShown_ = QTransform(m.a, m.c, m.b, m.d, m.e, m.f);
  const bool marking = cutting && cutOut_->marksStretches();
  ribbon_->setMarking(marking);
  ribbon_->setMark(marking ? cutOut_->shapeEdge().mark() : std::nullopt);
  ribbon_->setBrush(cutting ? cutOut_->maskBrush() : nullptr);
  ribbon_->setFindings(findingsOnEdge());
  ribbon_->look(view.ground.kind == Ground::Kind::flat ? view.ground.colour : std::array<double, 3>{0.5, 0.5, 0.5});
}

// What was found along the active layer's cut, in px of the layer.
std::vector<SeamRibbon::Found> MainWindow::findingsOnEdge() const {
  std::vector<SeamRibbon::Found> out;
  const scene::Layer* l = desk_.active();
  const auto& report = lookOver_->watch().report();
  const auto* p = l ? l->picture() : nullptr;
  const auto back = p ? p->placement.toScene(p->source.size()).inverse() : std::nullopt;
  if (!report || !back) return out;
  static const std::set<std::string> kOfTheEdge = {"halo", "edge_softness", "jaggedness", "leftovers"};
  for (const findings::Verdict& v : report->findings) {
    if (v.layer != l->id || !kOfTheEdge.contains(v.kind)) continue;
    const base::Rect in = base::boundsOf(*back, v.region.grown(2));
    out.push_back({QString::fromUtf8(findings::kindOf(v.kind).name), QRectF(in.x, in.y, in.width, in.height)});
  }
  return out;
}

// The place that the ribbon's pointer is at: a knot with four stitches.
void MainWindow::drawMark(QPainter& painter, const QTransform& toWidget) const {
  const auto at = ribbon_->isVisible() ? ribbon_->marked() : std::nullopt;
  if (!at) return;
  const QPointF c = toWidget.map(ribbonToShown_.map(*at));
  painter.setRenderHint(QPainter::Antialiasing);
  for (const auto& [colour, wide] : {std::pair(QColor(Qt::black), 4.0), std::pair(QColor(Qt::white), 2.0)}) {
    painter.setPen(QPen(colour, wide, Qt::SolidLine, Qt::RoundCap));
    for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
      painter.drawLine(c + d * 6, c + d * 14);
  }
}

}  // namespace hseam::app
