#include "app/stations/cut_out/draw_round.h"

#include <QCheckBox>
#include <QComboBox>
#include <QVBoxLayout>

#include "app/stations/cut_out/cut_work.h"
#include "app/widgets/builders.h"
#include "core/select/reshape.h"
#include "core/select/shape.h"

namespace hseam::app {
namespace {

// In the order of the list of outlines; after them the one along edges.
constexpr OutlineTool::Kind kKinds[] = {OutlineTool::Kind::freehand, OutlineTool::Kind::straight, OutlineTool::Kind::rectangle,
                                        OutlineTool::Kind::ellipse};
constexpr select::Combine kWays[] = {select::Combine::replace, select::Combine::add, select::Combine::takeAway,
                                     select::Combine::overlap};

}  // namespace

DrawRound::DrawRound(Desk& desk)
    : SelectingPage(desk, {"outline", tr("Draw round it"), tr("Make or mend the selection with outlines")}),
      outline_([this](OutlineTool::Kind k, const QPolygonF& o) { drawn(k, o); },
               [this] {
                 return outline_.kind == OutlineTool::Kind::straight
                            ? tr("click from corner to corner; right button steps back, a double click closes")
                            : tr("draw round a part of the picture");
               }),
      alongEdges_([this](const QPointF& from, int level, auto found) { findEdgeWays(from, level, std::move(found)); },
                  [this](const QPolygonF& o) { drawn(OutlineTool::Kind::freehand, o); }, [this] { emit changed(); }) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  shape_ = new QComboBox;
  shape_->setObjectName(QStringLiteral("outlines"));
  shape_->addItems({tr("freehand"), tr("straight sides"), tr("rectangle"), tr("ellipse"), tr("along edges")});
  shape_->setAccessibleName(tr("Kind of outline"));
  shape_->setToolTip(
      tr("Freehand: drag. Straight sides: click from corner to corner. Rectangle, ellipse: drag (Shift: as wide as high). Along "
         "edges: click on the edge, and the line follows it to the pointer"));
  connect(shape_, &QComboBox::currentIndexChanged, this, [this](int i) {
    if (i < int(std::size(kKinds))) outline_.kind = kKinds[i];
    emit changed();
  });
  combine_ = new QComboBox;
  combine_->addItems({tr("starts anew"), tr("adds"), tr("takes away"), tr("keeps the overlap")});
  combine_->setCurrentIndex(1);
  combine_->setAccessibleName(tr("What the outline does to the selection"));
  combine_->setToolTip(tr("What the next outline does to the selection"));
  column->addWidget(rowOf({shape_, combine_}));
  snap_ = new QCheckBox(tr("the outline becomes the subject inside it"));
  snap_->setToolTip(tr("Draw loosely: what stands inside is found and taken up to its own edge"));
  column->addWidget(snap_);
  reshapeBy_ = new ValueField(tr("reshape by"), {0.5, 100, 4, 1, tr("px"), false}, tr("By how many pixels of the picture"));
  column->addWidget(reshapeBy_);
  const auto shaping = [this](const QString& name, const QString& tip, const auto& how) {
    return button(name, tip, [this, name, how] { reshape(how, name.toLower()); });
  };
  using Coverage = image::TiledImage;
  column->addWidget(rowOf({
      shaping(tr("Wider"), tr("Move the selection's edge outwards"), select::widened),
      shaping(tr("Tighter"), tr("Move the selection's edge inwards"),
              [](const Coverage& s, double px, base::Executor& e) { return select::widened(s, -px, e); }),
      shaping(tr("Softer"), tr("Spread the selection's edge"), select::softened),
      shaping(tr("Rounder"), tr("Corners and notches smaller than this go"), select::rounded),
  }));
  column->addWidget(rowOf({
      shaping(tr("Ring"), tr("A strip of this width along the selection's edge"), select::ring),
      shaping(tr("Close gaps"), tr("Fill gaps and holes narrower than this"), select::gapsClosed),
      shaping(tr("Drop islands"), tr("Parts by themselves that are smaller than a square of this side go"),
              [](const Coverage& s, double px, base::Executor& e) { return select::withoutIslands(s, px * px, e); }),
  }));
  column->addWidget(rowOf({
      button(tr("Invert"), tr("Select what is not selected"), [this] { invertSelection(); }),
      button(tr("Nothing"), tr("Drop the selection"),
             [this] {
               if (picture()) desk_.session.apply(scene::SetSelection{desk_.session.active(), {}, ""});
             }),
      button(tr("As mask"), tr("Use the selection as the layer's mask as it is, without solving the edge"),
             [this] {
               if (picture() && !picture()->cutout->selection.isNull())
                 desk_.session.apply(scene::SetMask{desk_.session.active(), picture()->cutout->selection, "from the selection"});
             }),
  }));
}

Instrument* DrawRound::instrument() {
  if (shape_->currentIndex() < int(std::size(kKinds))) return &outline_;
  return &alongEdges_;
}

QString DrawRound::words() const {
  return shape_->currentText();
}

const scene::PictureContent* DrawRound::picture() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? l->picture() : nullptr;
}

void DrawRound::drawn(OutlineTool::Kind kind, const QPolygonF& outline) {
  if (!picture()) return;
  select::Outline shape;
  for (const QPointF& q : outline) shape.push_back({q.x(), q.y()});
  if (kind == OutlineTool::Kind::rectangle) shape = select::rectangleOutline(shape[0], shape[1]);
  if (kind == OutlineTool::Kind::ellipse) shape = select::ellipseOutline(shape[0], shape[1]);
  if (snap_->isChecked()) {
    snapOutline(desk_, shape, kWays[combine_->currentIndex()]);
    return;
  }
  auto combined = select::combined(selectionOrEmpty(desk_), shape, kWays[combine_->currentIndex()], desk_.session.executor());
  if (!combined.ok()) {
    emit desk_.messages.refused(QString::fromStdString(combined.error().text()));
    return;
  }
  desk_.session.apply(
      scene::SetSelection{desk_.session.active(), *combined, tr("an outline %1").arg(combine_->currentText()).toStdString()});
}

void DrawRound::findEdgeWays(const QPointF& from, int level, std::function<void(const select::EdgeWays&)> found) {
  const auto* p = picture();
  if (!p) return;
  desk_.aside.ask<base::Result<select::EdgeWays>>(
      QStringLiteral("edge ways"),
      [source = p->source, from, level] {
        return select::edgeWays(source, {from.x(), from.y()}, level, {});
      },
      [this, found = std::move(found)](const base::Result<select::EdgeWays>& ways) {
        if (ways.ok()) {
          found(*ways);
        } else {
          emit desk_.messages.refused(QString::fromStdString(ways.error().text()));
        }
      });
}

void DrawRound::reshape(
    const std::function<base::Result<image::TiledImage>(const image::TiledImage&, double, base::Executor&)>& reshape,
    const QString& how) {
  reshapeSelection(
      desk_, [reshape, px = reshapeBy_->value()](const image::TiledImage& s, base::Executor& e) { return reshape(s, px, e); },
      how);
}

void DrawRound::invertSelection() {
  if (!picture()) return;
  auto inverted = select::inverted(selectionOrEmpty(desk_), desk_.session.executor());
  if (inverted.ok()) desk_.session.apply(scene::SetSelection{desk_.session.active(), *inverted, "inverted"});
}

}  // namespace hseam::app
