#include "app/stations/cut_out/draw_path.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/ask_file.h"
#include "app/widgets/builders.h"
#include "core/matte/edge_path.h"
#include "core/matte/edge_snap.h"
#include "core/path/contour.h"
#include "core/path/cover.h"
#include "core/path/fit.h"
#include "core/path/svg.h"

namespace hseam::app {

DrawPath::DrawPath(Desk& desk, std::function<View()> view)
    : Page(desk, {"path", tr("Draw a path"), tr("Curves along hard edges, few points, editable for ever")}),
      view_(std::move(view)),
      tool_(
          {[this] { return shownPath(); },
           [this](const path::Path& p) {
             desk_.session.draft(
                 scene::SetPath{desk_.session.active(), std::make_shared<const path::Path>(p), acts_->isChecked(), "drawn"});
           },
           [this](const path::Path& p, const QString& how) { keep(p, how); },
           [this] { return desk_.session.activeLayer() ? layerToShown(*desk_.session.activeLayer(), view_()) : base::Affine{}; },
           [this] { return path::Joins(joins_->currentIndex()); },
           [this] {
             return tr("click: a corner; drag: a curve; on the first point: close; drag points, handles or the curve itself");
           }}),
      joins_(new QComboBox),
      reading_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  joins_->addItems({tr("adds"), tr("takes away"), tr("keeps the overlap")});
  joins_->setAccessibleName(tr("What the next outline does"));
  joins_->setToolTip(tr("What the next outline does to those before it; each stays editable"));
  through_ = new QCheckBox(tr("through points"));
  through_->setToolTip(tr("Points lie on the curve, which bends through them by itself"));
  connect(through_, &QCheckBox::toggled, this, [this](bool on) { tool_.throughPoints = on; });
  column->addWidget(rowOf({joins_, through_}));
  column->addWidget(rowOf({
      button(tr("Smooth"), tr("The points in hand become smooth (double click does it too)"), [this] { tool_.turnInHand(true); }),
      button(tr("Corner"), tr("The points in hand become corners; their handles part"), [this] { tool_.turnInHand(false); }),
      button(tr("Take out"), tr("The points in hand go; the curve keeps its shape as far as it can"),
             [this] { tool_.removeInHand(); }),
  }));
  tolerance_ =
      new ValueField(tr("within"), {0.1, 20, 2, 1, tr("px"), false},
                     tr("How far a fitted curve may leave the selection's edge, and how far a point may move when it snaps"));
  column->addWidget(tolerance_);
  column->addWidget(rowOf({
      button(tr("Fit"),
             tr("A path with few points: the selection goes onto the edge that the picture shows near it first. If nothing is "
                "selected, along the mask"),
             [this] { fit(); }),
      button(tr("Fewer"), tr("The same path with fewer points, within this many pixels"), [this] { fewer(); }),
      button(tr("Snap"),
             tr("Points move onto the picture's own edge, a fraction of a pixel counts, by this many pixels at the most"),
             [this] { snap(); }),
      button(tr("Mirror"), tr("Open halves are mirrored about the line through their ends, and closed"),
             [this] { onEachOutline(path::mirroredAndClosed, tr("mirrored")); }),
  }));
  reading_->setAccessibleName(tr("Reading of the path"));
  column->addWidget(reading_);
  acts_ = new QCheckBox(tr("bounds the mask"));
  acts_->setToolTip(tr("Nothing of the layer shows outside the path; what is painted on the mask stays as it is"));
  connect(acts_, &QCheckBox::clicked, this, [this](bool on) {
    const scene::Layer* l = desk_.session.activeLayer();
    if (l && l->mask.path) desk_.session.apply(scene::SetPath{l->id, l->mask.path, on, on ? "bounds the mask" : "rests"});
  });
  column->addWidget(rowOf({acts_, button(tr("As selection"), tr("Select what the path covers"), [this] { toSelection(); })}));
  column->addWidget(rowOf({
      button(tr("From SVG…"), tr("Outlines of a drawing join this path"), [this] { readFile(); }),
      button(tr("To SVG…"), tr("Write the path as a drawing"), [this] { writeFile(); }),
      button(tr("Drop"), tr("Take the path away; undo brings it back"), [this] { keep({}, tr("dropped")); }),
  }));
}

path::Path DrawPath::shownPath() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l && l->mask.path ? *l->mask.path : path::Path{};
}

void DrawPath::keep(const path::Path& p, const QString& how) {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l || !l->picture()) return;
  desk_.session.apply(
      scene::SetPath{l->id, p.empty() ? nullptr : std::make_shared<const path::Path>(p), acts_->isChecked(), how.toStdString()});
}

void DrawPath::onEachOutline(const std::function<path::Outline(const path::Outline&)>& change, const QString& how) {
  path::Path p = shownPath();
  for (path::Outline& o : p.outlines) o = change(o);
  tool_.leaveOpen();
  if (!(p == shownPath())) keep(p, how);
}

// Of every outline of the selection (else of the mask): the outer ones add, holes take away.
void DrawPath::fit() {
  const double tolerance = tolerance_->value();
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  if (!p) return;
  const image::TiledImage from = p->cutout->selection.isNull() ? l->mask.byHand() : p->cutout->selection;
  if (from.isNull() || from.format() != image::PixelFormat::grey8) {
    emit desk_.messages.said(tr("There is no selection and no mask to fit a path to: guess the subject or draw round it first"));
    return;
  }
  // A mask was solved to a fraction of a pixel already; a selection is only roughly where the edge is.
  const image::TiledImage edges = p->cutout->selection.isNull() ? image::TiledImage() : p->source;
  desk_.jobs.start<matte::EdgePath>(
      tr("Fit a path"),
      [from, edges, tolerance](base::Executor&, const base::Progress& progress) {
        return matte::pathAlongEdge(from, edges, tolerance, progress);
      },
      [this, asked = asked()](const matte::EdgePath& f) {
        if (!isStill(asked)) return;
        tool_.cancel();
        keep(f.path, tr("fitted"));
        int points = 0;
        for (const auto& o : f.path.outlines) points += int(o.nodes.size());
        emit desk_.messages.said(
            tr("%1 points; the curve leaves the edge by %2 px at the most").arg(points).arg(f.deviationPx, 0, 'f', 2));
      });
}

// The layer and its path when work on it began.
DrawPath::Asked DrawPath::asked() const {
  return {desk_.session.active(), shownPath()};
}

// Says so if the path was changed, or another layer chosen, since.
bool DrawPath::isStill(const Asked& asked) {
  if (asked.first == desk_.session.active() && asked.second == shownPath()) return true;
  emit desk_.messages.refused(
      tr("The path was changed while this was worked out: what you did stays, and the outcome is dropped. Do it again."));
  return false;
}

void DrawPath::fewer() {
  if (shownPath().empty()) return;
  tool_.leaveOpen();
  desk_.jobs.start<path::Path>(
      tr("Find fewer points"),
      [p = shownPath(), tolerance = tolerance_->value()](base::Executor&,
                                                         const base::Progress& progress) -> base::Result<path::Path> {
        path::Path few = p;
        for (path::Outline& o : few.outlines) {
          if (progress.cancelled()) return base::cancelledError();
          if (o.closed) o = path::refitted(o, tolerance).outline;
        }
        return few;
      },
      [this, asked = asked()](const path::Path& few) {
        if (isStill(asked) && !(few == asked.second)) keep(few, tr("fewer points"));
      });
}

void DrawPath::snap() {
  const auto* picture = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  if (!picture || shownPath().empty()) return;
  tool_.leaveOpen();
  desk_.jobs.start<path::Path>(
      tr("Snap the path to the edge"),
      [p = shownPath(), source = picture->source, within = std::min(8.0, tolerance_->value())](
          base::Executor&, const base::Progress& progress) { return matte::snappedToEdges(p, source, within, progress); },
      [this, asked = asked()](const path::Path& snapped) {
        if (isStill(asked) && !(snapped == asked.second)) keep(snapped, tr("snapped to the edge"));
      });
}

void DrawPath::toSelection() {
  const auto* picture = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  if (!picture || shownPath().empty()) return;
  auto area = path::coverage(shownPath(), picture->source.size(), desk_.session.memory(), desk_.session.executor());
  if (area.ok()) desk_.session.apply(scene::SetSelection{desk_.session.active(), *area, "from the path"});
}

void DrawPath::readFile() {
  const QString file = QFileDialog::getOpenFileName(this, tr("Outlines of a drawing"), {}, tr("Drawings (*.svg)"));
  if (file.isEmpty()) return;
  const auto read = path::readSvg(file.toStdString());
  if (!read.ok()) {
    emit desk_.messages.refused(QString::fromStdString(read.error().text()));
    return;
  }
  path::Path p = shownPath();
  p.outlines.insert(p.outlines.end(), read->outlines.begin(), read->outlines.end());
  keep(p, tr("from a drawing"));
}

void DrawPath::writeFile() {
  const auto* picture = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  if (!picture || shownPath().empty()) {
    emit desk_.messages.said(tr("There is no path to write yet"));
    return;
  }
  const QString ending = QStringLiteral(".svg");
  const QString file =
      askWhereToWrite(this, tr("Write the path"), QString::fromStdString(desk_.session.activeLayer()->name) + ending, {ending},
                      tr("Drawings (*.svg)"));
  if (file.isEmpty()) return;
  const auto done = path::writeSvg(file.toStdString(), shownPath(), picture->source.size());
  done.ok() ? emit desk_.messages.said(tr("The path is at %1").arg(file))
            : emit desk_.messages.refused(QString::fromStdString(done.error().text()));
}

QString DrawPath::words() const {
  int points = 0;
  for (const auto& o : shownPath().outlines) points += int(o.nodes.size());
  return points == 0 ? tr("none") : tr("%1 points").arg(points);
}

void DrawPath::refresh() {
  const scene::Layer* l = desk_.session.activeLayer();
  const path::Path p = shownPath();
  if (const scene::LayerId now = l ? l->id : scene::LayerId{}; now != layer_) {
    // Points in hand, and whether a path acts, belong to the layer that was left.
    layer_ = now;
    tool_.cancel();
    acts_->setChecked(l && l->mask.pathActs);
  }
  if (!p.empty()) acts_->setChecked(l->mask.pathActs);
  if (l && l->mask.path && l->mask.path == readFor_) return;
  readFor_ = l ? l->mask.path : nullptr;
  if (p.empty()) {
    reading_->setText(tr("Click along a hard edge, few points, drag where it bends. Or fit one to the selection."));
    return;
  }
  tellOf(p);
}

// How many points there are, and how many there might be; the latter takes a moment, and is worked out beside the window.
void DrawPath::tellOf(const path::Path& p) {
  int points = 0;
  double wiggle = 0;
  for (const auto& o : p.outlines) {
    points += int(o.nodes.size());
    wiggle = std::max(wiggle, path::readingOf(o).wiggle);
  }
  const QString words = tr("%1 points, %2 % of its turning is wiggle.").arg(points).arg(std::lround(wiggle * 100));
  reading_->setText(words);
  desk_.aside.ask<int>(
      QStringLiteral("fewer points"),
      [p] {
        int few = 0;
        for (const auto& o : p.outlines) {
          // Only what is finished and not large is looked at while drawing.
          const bool look = o.closed && o.nodes.size() <= 200;
          few += look ? int(path::refitted(o, 0.3).outline.nodes.size()) : int(o.nodes.size());
        }
        return few;
      },
      [this, words, points](const int& few) {
        if (few < points) reading_->setText(words + tr(" These %1 can be %2 within 0.3 px.").arg(points).arg(few));
      });
}

}  // namespace hseam::app
