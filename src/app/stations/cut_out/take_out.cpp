#include "app/stations/cut_out/take_out.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/builders.h"
#include "app/widgets/raster_image.h"
#include "app/widgets/value_field.h"
#include "core/image/level.h"
#include "core/image/rgb.h"
#include "core/image/transfer.h"
#include "core/repair/fill.h"
#include "core/select/reshape.h"

namespace hseam::app {
namespace {

constexpr int kSmallPx = 108;  // of a candidate's picture

struct FilledPicture {
  image::TiledImage picture, mask;
  QImage small;
  std::vector<repair::CopiedFrom> pieces;
};

// What a coverage covers, as exactly as a small level tells it.
base::Result<base::Rect> coveredBox(const image::TiledImage& coverage) {
  constexpr double kEnough = 2.5e5;
  const int level = image::levelOfAtMost(coverage, kEnough), k = 1 << level;
  HSEAM_TRY(const auto read, image::read8(coverage, level, base::Rect::of(coverage.level(level).size)));
  base::Rect box;
  for (int y = 0; y < read.height(); ++y) {
    for (int x = 0; x < read.width(); ++x) {
      if (*read.at(x, y) > 0) box = box.united({x * k, y * k, k, k});
    }
  }
  return box;
}

// The filled place with half as much around it.
base::Result<QImage> smallOf(const image::TiledImage& picture, const image::TiledImage& hole) {
  HSEAM_TRY(const base::Rect box, coveredBox(hole));
  const base::Rect around = box.grown(std::max(box.width, box.height) / 4 + 4).intersected(base::Rect::of(picture.size()));
  int level = 0;
  while (level + 1 < picture.levelCount() && std::max(around.width, around.height) >> (level + 1) >= kSmallPx) ++level;
  const int k = 1 << level;
  const base::Rect there = base::Rect{around.x / k, around.y / k, around.width / k + 1, around.height / k + 1}.intersected(
      base::Rect::of(picture.level(level).size));
  HSEAM_TRY(const image::Raster<float> read, image::readFloat(picture, level, there));
  const image::Raster<float> rgb = image::rgbOf(read);
  image::Raster<std::uint8_t> bytes(rgb.width(), rgb.height(), 3);
  std::transform(rgb.samples().begin(), rgb.samples().end(), bytes.samples().begin(),
                 [](float v) { return image::wholeOf<std::uint8_t>(v * 255); });
  return imageOf(bytes).scaled(kSmallPx, kSmallPx, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

}  // namespace

TakeOut::TakeOut(Desk& desk)
    : Page(desk, {"take-out", tr("Take it out of the picture"),
                  tr("What is selected disappears: its surroundings go on over it, on a layer of their own")}),
      line_(
          [this](OutlineTool::Kind, const QPolygonF& line) {
            lines_.push_back(line);
            refresh();
            emit changed();
          },
          [] { return tr("draw along a pole or an edge that must go on"); }),
      wider_(new ValueField(tr("wider"), {0, 60, 6, 0, QStringLiteral("px")},
                            tr("How far beyond the selection the fill reaches, so that no rim of the thing stays"))) {
  line_.kind = OutlineTool::Kind::line;
  auto* c = column();
  c->addWidget(
      quietLabel(tr("Select the thing and its shadow with the pages above. Where a pole or an edge must go on, draw along it, "
                    "from one side of the thing to the other.")));
  c->addWidget(wider_);
  noLines_ = button(tr("Forget the lines"), tr("The fill is free again"), [this] {
    lines_.clear();
    refresh();
    emit changed();
  });
  c->addWidget(noLines_);
  fill_ = button(tr("Fill from the surroundings"),
                 tr("Makes a layer above the picture that shows what may lie behind the selection"), [this] {
                   forget();
                   fill(1, true);
                 });
  another_ = button(tr("Another one"), tr("Makes one more candidate and shows it; undo brings the last one back"),
                    [this] { fill(seed_ + 1, true); });
  fill_->setObjectName(QStringLiteral("fill"));
  c->addWidget(fill_);
  offered_ = new QWidget;
  row_ = new QHBoxLayout(offered_);
  row_->setContentsMargins(0, 0, 0, 0);
  row_->addStretch(1);
  offered_->hide();
  c->addWidget(offered_);
  c->addWidget(another_);
  pieces_ = new QCheckBox(tr("show where it was copied from"));
  pieces_->setToolTip(tr("The largest pieces of the fill, each joined by a line to the place that it was copied from"));
  connect(pieces_, &QCheckBox::toggled, this, [this] { emit changed(); });
  pieces_->hide();
  c->addWidget(pieces_);
  connect(&desk_.session, &Session::replaced, this, [this] {
    forget();
    lines_.clear();
    made_ = madeFrom_ = {};
  });
  refresh();
}

const scene::Layer* TakeOut::filledFrom() const {
  const scene::Scene& s = desk_.session.scene();
  const bool again = desk_.session.active() == made_ && scene::findLayer(s, made_) && scene::findLayer(s, madeFrom_);
  const scene::Layer* l = again ? scene::findLayer(s, madeFrom_) : desk_.session.activeLayer();
  return l && l->picture() ? l : nullptr;
}

void TakeOut::refresh() {
  const scene::Layer* l = filledFrom();
  const bool selected = l && !l->picture()->cutout->selection.isNull();
  noLines_->setVisible(!lines_.empty());
  fill_->setEnabled(selected && desk_.session.active() != made_);
  another_->setEnabled(selected && desk_.session.active() == made_ && made_.value != 0);
}

QString TakeOut::words() const {
  const scene::Layer* l = filledFrom();
  return l && !l->picture()->cutout->selection.isNull() ? QString() : tr("nothing selected");
}

void TakeOut::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  for (const QPolygonF& line : lines_) drawStitched(painter, toWidget.map(line), false);
  if (pieces_->isChecked() && shown_ < candidates_.size()) drawPieces(painter, toWidget);
}

// A frame round each piece and round the place it was copied from, and a thread between them.
void TakeOut::drawPieces(QPainter& painter, const QTransform& toWidget) const {
  const scene::Layer* l = scene::findLayer(desk_.session.scene(), madeFrom_);
  if (!l || !l->picture()) return;
  const base::Affine toScene = l->picture()->placement.toScene(l->picture()->source.size());
  const auto shown = [&](const base::Rect& r) {
    QPolygonF corners;
    for (const auto& [x, y] : {std::pair(r.x, r.y), {r.right(), r.y}, {r.right(), r.bottom()}, {r.x, r.bottom()}, {r.x, r.y}}) {
      const base::Point p = toScene.map({double(x), double(y)});
      corners << toWidget.map(QPointF(p.x, p.y));
    }
    return corners;
  };
  for (const repair::CopiedFrom& piece : candidates_[shown_].pieces) {
    const QPolygonF to = shown(piece.to), from = shown(piece.from);
    drawStitched(painter, to, false);
    drawStitched(painter, from, false);
    drawStitched(painter, QPolygonF{to.boundingRect().center(), from.boundingRect().center()}, false);
  }
}

std::vector<repair::StructureLine> TakeOut::linesOn(const scene::PictureContent& picture) const {
  std::vector<repair::StructureLine> out;
  const auto back = picture.placement.toScene(picture.source.size()).inverse();
  for (const QPolygonF& drawn : lines_) {
    repair::StructureLine& line = out.emplace_back();
    for (const QPointF& p : drawn) line.push_back(back ? back->map({p.x(), p.y()}) : base::Point{p.x(), p.y()});
  }
  return out;
}

void TakeOut::forget() {
  for (const Candidate& c : candidates_) c.button->deleteLater();
  candidates_.clear();
  offered_->hide();
  pieces_->hide();
}

void TakeOut::fill(std::uint32_t seed, bool show) {
  const scene::Layer* from = filledFrom();
  if (!from || from->picture()->cutout->selection.isNull()) return;
  seed_ = seed;
  repair::FillOptions options{seed, {}, linesOn(*from->picture())};
  desk_.jobs.start<FilledPicture>(
      {show ? tr("Fill from the surroundings") : tr("Fill once more, to choose from"), QStringLiteral("fill-%1").arg(seed)},
      [source = from->picture()->source, selection = from->picture()->cutout->selection, options, px = wider_->value()](
          base::Executor& executor, const base::Progress& progress) -> base::Result<FilledPicture> {
        HSEAM_TRY(const image::TiledImage hole, select::widened(selection, px, executor));
        std::vector<repair::CopiedFrom> pieces;
        HSEAM_TRY(image::TiledImage picture, repair::filled(source, hole, options, executor, progress, &pieces));
        HSEAM_TRY(QImage small, smallOf(picture, hole));
        return FilledPicture{std::move(picture), hole, std::move(small), std::move(pieces)};
      },
      [this, id = from->id, show, seed, of = from->picture()->source.stamp()](const FilledPicture& made) {
        const scene::Layer* l = scene::findLayer(desk_.session.scene(), id);
        if (!l || l->picture()->source.stamp() != of) {
          emit desk_.messages.refused(tr("The picture was changed while it was filled: the fill is dropped. Do it again."));
          return;
        }
        if (madeFrom_ != id) made_ = {};
        madeFrom_ = id;
        offer({made.picture, made.mask, made.small, made.pieces, nullptr}, show);
        if (seed == 1) fill(2, false);
      });
}

void TakeOut::offer(Candidate made, bool show) {
  const std::size_t index = candidates_.size();
  made.button = new QToolButton;
  made.button->setCheckable(true);
  made.button->setAutoExclusive(true);
  made.button->setIconSize({kSmallPx, kSmallPx});
  made.button->setIcon(QPixmap::fromImage(made.small));
  made.button->setAccessibleName(tr("candidate %1").arg(index + 1));
  made.button->setToolTip(tr("Click to show this candidate in the scene"));
  connect(made.button, &QToolButton::clicked, this, [this, index] { put(index); });
  // Two side by side; the newest stay.
  for (std::size_t i = 0; i + 1 < candidates_.size(); ++i) candidates_[i].button->hide();
  row_->insertWidget(row_->count() - 1, made.button);
  candidates_.push_back(std::move(made));
  offered_->show();
  if (show) put(index);
}

void TakeOut::put(std::size_t candidate) {
  const Candidate& made = candidates_[candidate];
  made.button->setChecked(true);
  shown_ = candidate;
  pieces_->show();
  const scene::Scene& s = desk_.session.scene();
  const scene::Layer* l = scene::findLayer(s, madeFrom_);
  const auto at = scene::positionOf(s, madeFrom_);
  if (!l || !at) return;
  scene::Layer fresh;
  fresh.id = scene::freeId(s);
  fresh.name = l->name + ", filled";
  scene::PictureContent p;
  p.source = made.picture;
  p.sourceName = l->picture()->sourceName;
  p.placement = l->picture()->placement;
  p.warp = l->picture()->warp;
  fresh.content = std::move(p);
  fresh.mask.coverage = made.mask;
  scene::Several step{"fill from the surroundings of " + l->name, {}};
  if (scene::findLayer(s, made_)) step.edits.push_back({scene::RemoveLayer{made_}});
  step.edits.push_back({scene::AddLayer{fresh, at->parent, at->index + 1}});
  if (!desk_.session.apply(step)) return;
  made_ = fresh.id;
  desk_.session.setActive(made_);
}

}  // namespace hseam::app
