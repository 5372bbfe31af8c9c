#include "app/stations/match/mend.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>

#include "app/instruments/outline_tool.h"
#include "app/widgets/builders.h"
#include "app/widgets/tip_fields.h"
#include "core/paint/colour_stroke.h"
#include "core/retouch/cloth.h"
#include "core/scene/painting.h"
#include "core/scene/up_to.h"

namespace hseam::app {
namespace {

scene::Layer emptyPainting(const Desk& desk) {
  return scene::emptyPainting(desk.session.scene(), "repairs", desk.session.memory());
}

}  // namespace

Mend::Mend(Desk& desk)
    : Page(desk,
           {"mend", tr("Copy and mend"),
            tr("Copies from elsewhere over what disturbs, or mends a fleck, on a painting of its own above the active layer")}),
      brush_(
          desk.session, desk.messages, [this] { return target(); }, [this] { return doing(); }) {
  auto* c = column();
  ways_ = new QComboBox;
  ways_->addItems(
      {tr("copy"), tr("copy and blend the light"), tr("mend a fleck"), tr("take a mark off cloth"), tr("take it away again")});
  ways_->setAccessibleName(tr("What the brush does"));
  ways_->setToolTip(tr(
      "Copying takes what lies at another place; mending makes it from what is round the stroke, and off cloth the folds stay"));
  c->addWidget(ways_);
  tip_ = new TipFields({40, 0.6, 1}, tr("The most one stroke covers"));
  c->addWidget(tip_);
  copying_ = new QWidget;
  auto* k = new QVBoxLayout(copying_);
  k->setContentsMargins(0, 0, 0, 0);
  k->setSpacing(6);
  sources_ = new QComboBox;
  sources_->addItems({tr("the scene up to here"), tr("only the layer below")});
  sources_->setAccessibleName(tr("Copied from"));
  sources_->setToolTip(tr("What is copied: all that shows up to the painting, earlier repairs too, or one layer alone"));
  k->addWidget(namedRow(tr("from"), sources_));
  turn_ = new ValueField(tr("turn"), {-180, 180, 0, 0, QStringLiteral("°"), true}, tr("The copy, clockwise"));
  scale_ = new ValueField(tr("scale"), {25, 400, 100, 0, tr("%"), false}, tr("The copy against what it is taken from"));
  k->addWidget(turn_);
  k->addWidget(scale_);
  mirrored_ = new QCheckBox(tr("mirrored"));
  mirrored_->setToolTip(tr("Left and right of the copy change places"));
  afresh_ = new QCheckBox(tr("each stroke starts afresh"));
  afresh_->setToolTip(
      tr("Each stroke copies from the marked place again. Otherwise the place moves along from stroke to stroke."));
  k->addWidget(rowOf({mirrored_, afresh_}));
  k->addWidget(quietLabel(tr("The right button marks the place to copy from; arrow keys move it.")));
  c->addWidget(copying_);
  connect(tip_, &TipFields::changed, this, &Mend::takeTip);
  for (ValueField* f : {turn_, scale_}) {
    connect(f, &ValueField::changed, this, &Mend::takeTip);
    connect(f, &ValueField::changing, this, &Mend::takeTip);
  }
  for (QCheckBox* box : {mirrored_, afresh_}) connect(box, &QCheckBox::toggled, this, &Mend::takeTip);
  connect(ways_, &QComboBox::currentIndexChanged, this, &Mend::takeWay);
  brush_.tipChanged = [this] { tip_->setTip(brush_.tip); };
  brush_.source = [this] { return source(); };
  brush_.placeSaid = [this] { emit changed(); };
  brush_.placeMissing = [this] { emit desk_.messages.said(tr("Right-click first where it is to be copied from.")); };
  brush_.stroked = [this] {
    desk_.session.setActive(stroked_);
    if (way() == Way::copy) lookAtStroke(drawn_, touched_, brush_.toSource());
  };
  connect(&desk_.session, &Session::historyChanged, this, [this] {
    if (desk_.session.history().current() < markedAt_) forgetMarks();
  });
  connect(&desk_.session, &Session::replaced, this, [this] {
    waiting_.clear();
    copies_.clear();
    forgetMarks();
    brush_.setPlace(std::nullopt);
  });
  // Of work that was stopped, or failed, nobody hears: once nothing runs any more nothing is waited for.
  connect(
      &desk_.jobs, &Lane::changed, this,
      [this] {
        if (!desk_.jobs.running()) waiting_.clear();
      },
      Qt::QueuedConnection);
  after_ = quietLabel({});
  after_->setAccessibleName(tr("What the last stroke gives away"));
  after_->hide();
  c->insertWidget(1, after_);  // where it is seen without scrolling
  takeTip();
  takeWay();
}

Mend::Way Mend::way() const {
  return Way(ways_->currentIndex());
}

bool Mend::onPainting() const {
  const auto* p = activePicture();
  return p && p->byHand;
}

void Mend::takeTip() {
  brush_.tip = tip_->tip();
  brush_.manner = {turn_->value(), scale_->value() / 100, mirrored_->isChecked(), afresh_->isChecked()};
}

void Mend::takeWay() {
  const bool copies = way() == Way::copy || way() == Way::copyInLight;
  copying_->setVisible(copies);
  brush_.copies = copies;
  brush_.handOver = nullptr;
  if (way() == Way::copyInLight || way() == Way::fleck || way() == Way::mark) {
    brush_.handOver = [this](const image::TiledImage& coverage) {
      if (!takenAway_.isNull()) {
        desk_.session.apply(scene::SetPainting{stroked_, takenAway_});
        return;
      }
      if (takes_) {
        emit desk_.messages.said(tr("Nothing was mended here yet that could be taken away."));
        return;
      }
      const bool first = waiting_.empty();
      waiting_.push_back({way(), stroked_, coverage, touched_, brush_.copies ? brush_.toSource() : base::Affine{},
                          brush_.copies ? source() : scene::Scene{}});
      if (first) workOut();
    };
  }
  emit changed();
}

// What is copied; earlier strokes count, what stands in front of the painting does not.
scene::Scene Mend::source() const {
  const scene::Scene& s = desk_.session.scene();
  if (sources_->currentIndex() == 0) return scene::upTo(s, desk_.session.active());
  const auto at = scene::positionOf(s, desk_.session.active());
  if (!at) return s;
  const scene::Layer* parent = scene::findLayer(s, at->parent);
  const auto& list = parent ? parent->group()->layers : s.layers;
  scene::Scene alone = s;
  alone.layers.clear();
  // The nearest with something to copy: an adjustment shows nothing by itself.
  int index = onPainting() ? at->index - 1 : at->index;
  while (index >= 0 && list[std::size_t(index)]->adjustment()) --index;
  if (index >= 0) alone.layers.push_back(list[std::size_t(index)]);
  return alone;
}

std::optional<Brush::Target> Mend::target() {
  // On the painting in hand, or on a new one over the layer in hand.
  struct Running {
    image::TiledImage painted;
    scene::Layer fresh;  // id 0: there is a painting already
    scene::Position at;
  };
  const auto running = std::make_shared<Running>();
  Brush::Target t;
  if (onPainting()) {
    running->painted = activePicture()->source;
    t.toShown = activePicture()->placement.toScene(running->painted.size());
    stroked_ = desk_.session.active();
  } else {
    const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
    if (!at || way() == Way::takeAway) return std::nullopt;
    running->fresh = emptyPainting(desk_);
    running->painted = running->fresh.picture()->source;
    running->at = {at->parent, at->index + 1};
    stroked_ = running->fresh.id;
  }
  t.picture = image::uniformCoverage(running->painted.size(), 0, desk_.session.memory());
  t.left = t.right = 255;
  touched_ = {};
  takenAway_ = {};
  takes_ = false;
  t.edit = [running, id = stroked_](const image::TiledImage&) -> scene::Edit {
    if (running->fresh.id.value == 0) return scene::SetPainting{id, running->painted};
    scene::Layer l = running->fresh;
    auto p = *l.picture();
    p.source = running->painted;
    l.content = std::move(p);
    return scene::AddLayer{std::move(l), running->at.parent, running->at.index};
  };
  t.settle = [this, running, before = running->painted, way = way(), from = brush_.copies ? source() : scene::Scene{},
              toShown = t.toShown](const Brush::Drawn& drawn) -> base::Result<image::TiledImage> {
    constexpr std::array<double, 3> kMarked{0.5, 0.5, 0.5};  // until it is mended
    base::Executor& executor = desk_.session.executor();
    touched_ = drawn.all;
    drawn_ = drawn.painted;
    const base::Rect area = drawn.fresh.intersected(base::Rect::of(before.size()));
    if (area.empty()) return drawn.painted;
    if (brush_.copies) {
      HSEAM_TRY(const auto copied, retouch::shownOn(from, brush_.toSource().after(toShown), area, executor));
      HSEAM_TRY(running->painted, paint::laidOn(before, running->painted, drawn.painted, copied, area, executor));
    } else {
      takes_ = way == Way::takeAway || drawn.right;
      const bool away = takes_ && running->fresh.id.value == 0;
      if (takes_ && !away) return drawn.painted;  // there is no painting yet
      HSEAM_TRY(running->painted, paint::laidOn(before, running->painted, drawn.painted, kMarked, away, area, executor));
      if (away) takenAway_ = running->painted;
    }
    return drawn.painted;
  };
  return t;
}

// One stroke after the other: each on what the one before has left.
void Mend::workOut() {
  const Waiting& w = waiting_.front();
  const scene::Scene from = desk_.session.scene();
  const scene::Layer* l = scene::findLayer(from, w.painting);
  scene::Layer fresh = l ? *l : emptyPainting(desk_);
  const auto at = scene::positionOf(from, l ? w.painting : desk_.session.active());
  const scene::PictureContent picture = *fresh.picture();
  retouch::Stroke stroke{picture.source, w.coverage, w.touched, picture.placement.toScene(picture.source.size())};
  const scene::Scene under = scene::upTo(from, l ? w.painting : desk_.session.active());
  desk_.jobs.start<image::TiledImage>(
      {w.way == Way::fleck  ? tr("Mend a fleck")
       : w.way == Way::mark ? tr("Take a mark off cloth")
                            : tr("Blend the light of a copy"),
       QStringLiteral("mend-%1").arg(seed_)},
      [w, stroke, under, seed = seed_](base::Executor& executor, const base::Progress& progress) {
        if (w.way == Way::fleck) return retouch::mended(stroke, under, seed, executor, progress);
        if (w.way == Way::mark) return retouch::markTakenOff(stroke, under, seed, executor, progress);
        return retouch::copiedInLight(stroke, w.source, w.toSource.after(stroke.toScene), under, executor, progress);
      },
      [this, from, fresh, at, isNew = l == nullptr, looked = w](const image::TiledImage& painted) {
        scene::Layer made = fresh;
        auto p = *made.picture();
        p.source = painted;
        made.content = std::move(p);
        const bool kept =
            isNew ? desk_.session.apply(scene::AddLayer{made, at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1})
                  : desk_.session.applyResult(scene::SetPainting{made.id, painted}, from);
        if (kept && isNew) desk_.session.setActive(made.id);
        if (kept && looked.way == Way::copyInLight) lookAtStroke(looked.coverage, looked.touched, looked.toSource);
        if (!waiting_.empty()) waiting_.erase(waiting_.begin());
        if (!waiting_.empty()) {
          if (isNew) {
            for (Waiting& next : waiting_) next.painting = made.id;
          }
          workOut();
        }
      });
  ++seed_;
}

void Mend::forgetMarks() {
  marked_.clear();
  after_->hide();
  emit changed();
}

void Mend::lookAtStroke(const image::TiledImage& coverage, const base::Rect& touched, const base::Affine& toSource) {
  const scene::Scene& s = desk_.session.scene();
  const scene::Layer* painting = scene::findLayer(s, desk_.session.active());
  if (!painting || !painting->picture() || touched.empty()) return;
  const base::Affine toScene = painting->picture()->placement.toScene(painting->picture()->source.size());
  const base::Rect to = base::boundsOf(toScene, touched);
  const retouch::Copied copy{base::boundsOf(toSource, to), to};
  const int step = desk_.session.history().current();
  // What was taken back is not there any more.
  std::erase_if(copies_, [step](const Noted& n) { return n.step >= step; });
  std::vector<retouch::Copied> earlier;
  for (const Noted& n : copies_) earlier.push_back(n.copy);
  const auto repeats = retouch::repeatsOf(copy, earlier);
  copies_.push_back({copy, step});
  marked_.clear();
  markedAt_ = step;
  QString words;
  if (!repeats.empty()) {
    marked_.push_back(copy.to);
    for (const retouch::Copied& r : repeats) marked_.push_back(r.to);
    words = tr("The same texture lies in the %1 framed places: take some of it from elsewhere.").arg(marked_.size());
  }
  after_->setText(words);
  after_->setVisible(!words.isEmpty());
  emit changed();
  constexpr int kRim = 4, kAround = 20;
  constexpr double kSeenStep = 3;  // L*
  const base::Rect area = touched.grown(kAround).intersected(base::Rect::of(coverage.size()));
  desk_.aside.ask<double>(
      QStringLiteral("after-stroke"),
      [under = scene::upTo(s, painting->id), toScene, area, coverage]() -> double {
        base::InlineExecutor here;
        const auto shown = retouch::shownOn(under, toScene, area, here);
        const auto covered = image::read8(coverage, 0, area);
        return shown.ok() && covered.ok() ? retouch::stepAtRim(*shown, *covered, kRim) : 0;
      },
      [this, step, words](const double& off) {
        if (std::abs(off) < kSeenStep || markedAt_ != step) return;
        const QString told =
            tr("At its rim tone steps by %1 L*: copy in the light of where it lies, or with a softer tip.").arg(off, 0, 'f', 1);
        after_->setText(words.isEmpty() ? told : words + QLatin1Char('\n') + told);
        after_->show();
      });
}

void Mend::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  for (const base::Rect& r : marked_) drawStitched(painter, toWidget.map(QPolygonF(QRectF(r.x, r.y, r.width, r.height))), true);
}

QString Mend::doing() const {
  if (!desk_.session.activeLayer()) return tr("choose a layer first");
  switch (way()) {
    case Way::fleck:
      return tr("mends what you paint over from what is round it; right takes the mending away");
    case Way::mark:
      return tr("paint over the whole mark; folds and weave stay; right takes the repair away");
    case Way::takeAway:
      return onPainting() ? tr("takes repairs away where you paint") : tr("choose a painting with repairs first");
    default:
      return brush_.place() ? tr("left copies here, right marks another place to copy from")
                            : tr("right-click where it is to be copied from");
  }
}

QString Mend::words() const {
  return onPainting() ? tr("on a painting") : QString();
}

void Mend::refresh() {
  setEnabled(desk_.session.activeLayer() != nullptr);
}

}  // namespace hseam::app
