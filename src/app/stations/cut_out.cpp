#include "app/stations/cut_out.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/cut_work.h"
#include "core/matte/ground.h"
#include "core/matte/trimap.h"
#include "core/select/reshape.h"

namespace hseam::app {
namespace {

enum GroundChoice { kAutomatic, kGreen, kGrey, kBlack, kWhite, kOwn, kWoven };

}  // namespace

CutOut::CutOut(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      band_(
          desk, [this] { return bandTarget(); },
          [this] { return tr("undecided band of %1: left widens, right thins").arg(activeName()); }) {
  guessPleat_ = pleats_->add(tr("Guess the subject"), tr("Let the program find the subject, then correct it with strokes"));
  guess_ = new GuessSubject(desk);
  guessPleat_->content()->addWidget(guess_);
  connect(guess_, &GuessSubject::changed, this, [this] {
    guessPleat_->setValue(guess_->words());
    emit changed();
  });
  connect(guess_, &GuessSubject::placeAsked, this, &CutOut::placeAsked);
  colourPleat_ = pleats_->add(tr("Choose by colour"), tr("Select what looks like the colours you click"));
  colour_ = new ChooseColour(desk);
  colourPleat_->content()->addWidget(colour_);
  connect(colour_, &ChooseColour::changed, this, &Station::changed);
  drawPleat_ = pleats_->add(tr("Draw round it"), tr("Make or mend the selection with outlines"));
  draw_ = new DrawRound(desk);
  drawPleat_->content()->addWidget(draw_);
  connect(draw_, &DrawRound::changed, this, &Station::changed);
  savedPleat_ = pleats_->add(tr("Keep and combine"), tr("Selections kept by name, combined, moved, scaled, turned"));
  saved_ = new SavedSelections(desk);
  savedPleat_->content()->addWidget(saved_);
  pathPleat_ = pleats_->add(tr("Draw a path"), tr("Curves along hard edges, few points, editable for ever"));
  path_ = new DrawPath(desk, [this] { return view(); });
  pathPleat_->content()->addWidget(path_);
  buildBand();
  buildSolve();
  shapePleat_ = pleats_->add(tr("Mark and shape the edge"), tr("Solve stretches as another kind; move, soften, round the edge"));
  shape_ = new ShapeEdge(desk);
  shapePleat_->content()->addWidget(shape_);
  connect(shape_, &ShapeEdge::changed, this, &Station::changed);
  paintPleat_ = pleats_->add(tr("Paint the mask"), tr("Reveal and hide by hand, with a soft or hard tip"));
  paint_ = new PaintMask(desk, [this] { return view(); });
  paintPleat_->content()->addWidget(paint_);
  connect(paint_, &PaintMask::changed, this, &Station::changed);
  connect(paint_, &PaintMask::sceneAsked, this, &CutOut::paintInSceneAsked);
  buildGround();
  earlierPleat_ = pleats_->add(tr("Compare with an earlier cut"), tr("What was lost and gained since, and the way back"));
  earlier_ = new EarlierCuts(desk, [this] { return shape_->mark(); });
  earlierPleat_->content()->addWidget(earlier_);
  connect(earlier_, &EarlierCuts::changed, this, &Station::changed);
  connect(pleats_, &Pleats::currentChanged, this, [this] {
    if (pleats_->current() == earlierPleat_) refresh();
  });
  connect(&desk_.jobs(), &Jobs::changed, this, [this] { emit changed(); });
  pleats_->open(guessPleat_);
}

void CutOut::buildBand() {
  bandPleat_ = pleats_->add(tr("Undecided band"), tr("The strip in which every pixel may be part subject, part background"));
  auto* c = bandPleat_->content();
  auto* find = button(tr("Find the band"), tr("From the picture itself: thin at crisp edges, wide over strands and blur"),
                      [this] { findBand(); });
  find->setProperty("main", true);
  c->addWidget(find);
  missed_ = new Places({tr("In one place the picture's edge seems to lie further from the selection than the band reaches. Mend "
                           "the selection there."),
                        tr("In %1 places the picture's edge seems to lie further from the selection than the band reaches. Mend "
                           "the selection there."),
                        tr("Shows where the selection should be mended before the edge is solved (Ctrl+J)")});
  connect(missed_, &Places::asked, this, &CutOut::placeAsked);
  c->addWidget(missed_);
  c->addWidget(quietLabel(tr("Or one of the same width everywhere:")));
  bandWidth_ = new ValueField(tr("width"), {4, 240, 40, 0, tr("px"), false},
                              tr("Wide enough for the longest strands, as thin as possible elsewhere"));
  c->addWidget(bandWidth_);
  c->addWidget(
      button(tr("Lay the band along the selection"), tr("Replaces the band by a new one of this width"), [this] { makeBand(); }));
  bandTip_ =
      new ValueField(tr("tip"), {4, 600, 70, 0, tr("px"), false}, tr("Size of the tip that paints the band (Alt + wheel)"));
  const auto take = [this] { band_.tip = {bandTip_->value(), 1, 1}; };
  connect(bandTip_, &ValueField::changed, this, take);
  take();
  band_.tipChanged = [this] { bandTip_->setValue(band_.tip.sizePx); };
  c->addWidget(bandTip_);
  c->addWidget(
      quietLabel(tr("Paint: left button widens the band (over strands), right button thins it.\nHatched: undecided. Dotted: "
                    "background. Plain: subject.")));
}

void CutOut::buildSolve() {
  solvePleat_ = pleats_->add(tr("Solve the edge"), tr("Find how much of each undecided pixel is subject, and its own colour"));
  auto* c = solvePleat_->content();
  c->addWidget(
      quietLabel(tr("Gives the layer its mask, strand by strand, and takes the old background's colour out of the edge. What you "
                    "painted on the mask stays.")));
  auto* solveButton = button(tr("Solve"), tr("Solve alpha and the subject's own colours in the band"), [this] { solve(); });
  solveButton->setProperty("main", true);
  c->addWidget(solveButton);
  original_ = new QCheckBox(tr("see the original colours"));
  original_->setToolTip(tr("The edge as photographed, old background's colour included; compare with the clean colours"));
  connect(original_, &QCheckBox::clicked, this, [this] { emit changed(); });
  c->addWidget(original_);
  clean_ = new QCheckBox(tr("clean colours in the scene"));
  clean_->setToolTip(tr("Whether the scene shows the subject's own colours at the edge or the original ones"));
  connect(clean_, &QCheckBox::clicked, this, [this](bool on) {
    if (activePicture()) desk_.apply(scene::SetUseClean{desk_.document().active(), on});
  });
  c->addWidget(clean_);
}

void CutOut::buildGround() {
  groundPleat_ = pleats_->add(tr("Ground behind the cut"),
                              tr("What is shown behind the cut while you check its edge; never part of the picture"));
  auto* c = groundPleat_->content();
  ground_ = new QComboBox;
  ground_->addItems({tr("automatic: shows this edge best"), tr("mid green"), tr("mid grey"), tr("black"), tr("white"),
                     tr("own colour…"), tr("woven: nothing behind")});
  ground_->setAccessibleName(tr("Ground behind the cut"));
  ground_->setToolTip(tr("Automatic is the colour that differs most from the colours along this edge, computed in L*a*b*"));
  connect(ground_, &QComboBox::activated, this, &CutOut::chooseGround);
  c->addWidget(ground_);
  ghost_ = new QCheckBox(tr("faint ghost of the uncut picture"));
  ghost_->setToolTip(tr("Shows where to paint the subject back"));
  connect(ghost_, &QCheckBox::clicked, this, [this] { emit changed(); });
  c->addWidget(ghost_);
}

View CutOut::view() const {
  View v;
  const auto* p = activePicture();
  if (!p) return v;
  v.onlyLayer = desk_.document().active();
  v.ground = chosenGround_;
  const Pleat* open = pleats_->current();
  v.uncut = open == guessPleat_ || open == colourPleat_ || open == drawPleat_ || open == savedPleat_ || open == pathPleat_ ||
            open == bandPleat_;
  v.maskAlone = open == paintPleat_ && paint_->maskAlone();
  v.original = open == solvePleat_ && original_->isChecked();
  v.ghostOfSource = ghost_->isChecked();
  return v;
}

Instrument* CutOut::instrument() {
  if (!activePicture()) return nullptr;
  const Pleat* open = pleats_->current();
  if (open == guessPleat_) return &guess_->tool();
  if (open == colourPleat_) return &colour_->tool();
  if (open == drawPleat_) return &draw_->tool();
  if (open == savedPleat_) return &saved_->tool();
  if (open == pathPleat_) return &path_->tool();
  if (open == bandPleat_) return &band_;
  if (open == shapePleat_) return &shape_->tool();
  if (open == paintPleat_) return &paint_->tool();
  return nullptr;
}

Brush* CutOut::maskBrush() {
  return pleats_->current() == paintPleat_ ? &paint_->brush() : nullptr;
}

std::optional<Brush::Target> CutOut::bandTarget() const {
  const auto* p = activePicture();
  if (!p || p->cutout.band.isNull()) return std::nullopt;
  Brush::Target t;
  t.picture = p->cutout.band;
  t.left = matte::kUndecided;
  t.right = kThinned;
  t.flat = true;
  t.edit = [id = desk_.document().active(), recipe = p->cutout.recipe](const image::TiledImage& painted) {
    return scene::SetBand{id, painted, recipe};
  };
  t.settle = [this, selection = selectionOrEmpty(desk_)](const Brush::Drawn& drawn) {
    return thinnedBand(drawn.painted, selection, drawn.all, desk_.executor());
  };
  return t;
}

void CutOut::guess(bool withHints) {
  guess_->guess(withHints);
}
void CutOut::findBand() {
  app::findBand(desk_, [this](std::vector<base::Rect> missed) {
    pleats_->open(bandPleat_);
    showMissed(std::move(missed));
  });
}
void CutOut::makeBand() {
  layBand(desk_, bandWidth_->value(), [this] {
    pleats_->open(bandPleat_);
    showMissed({});
  });
}

// They belong to one picture and its selection.
void CutOut::showMissed(std::vector<base::Rect> places) {
  const auto* p = activePicture();
  missedOf_ = p ? p->cutout.selection.stamp() : 0;
  missed_->set(std::move(places));
}

void CutOut::solve() {
  auto timer = std::make_shared<QElapsedTimer>();
  timer->start();
  if (const auto* p = activePicture(); p && (!p->cutout.selection.isNull() || !p->cutout.band.isNull()))
    pleats_->open(solvePleat_);
  solveEdge(desk_, [this, timer] {
    solvedIn_ = double(timer->elapsed()) / 1000;
    groundFor_ = 0;
    pleats_->open(solvePleat_);
    refresh();
    emit changed();
  });
}

void CutOut::chooseGround(int index) {
  const auto flat = [](double r, double g, double b) { return Ground{Ground::Kind::flat, {r, g, b}}; };
  switch (index) {
    case kGreen:
      chosenGround_ = flat(0.30, 0.60, 0.32);
      break;
    case kGrey:
      chosenGround_ = flat(0.5, 0.5, 0.5);
      break;
    case kBlack:
      chosenGround_ = flat(0, 0, 0);
      break;
    case kWhite:
      chosenGround_ = flat(1, 1, 1);
      break;
    case kWoven:
      chosenGround_ = {};
      break;
    case kOwn: {
      const QColor c = QColorDialog::getColor(
          QColor::fromRgbF(float(chosenGround_.colour[0]), float(chosenGround_.colour[1]), float(chosenGround_.colour[2])), this,
          tr("Ground behind the cut"));
      if (c.isValid()) chosenGround_ = flat(c.redF(), c.greenF(), c.blueF());
      break;
    }
    default:
      groundFor_ = 0;
  }
  refresh();
  emit changed();
}

void CutOut::refresh() {
  const auto* p = activePicture();
  paint_->refresh();
  saved_->refresh();
  savedPleat_->setValue(saved_->words());
  shape_->refresh();
  shapePleat_->setValue(shape_->words());
  // It walks through the steps: only while it is looked at.
  if (pleats_->current() == earlierPleat_) {
    earlier_->refresh();
    earlierPleat_->setValue(earlier_->words());
  }
  colour_->refresh();
  colourPleat_->setValue(colour_->words());
  path_->refresh();
  pathPleat_->setValue(path_->words());
  setEnabled(p != nullptr);
  const scene::Layer* l = desk_.active();
  const bool masked = p && !l->mask.coverage.isNull();
  guess_->refresh();
  guessPleat_->setValue(guess_->words());
  drawPleat_->setValue(draw_->words());
  bandPleat_->setValue(p && !p->cutout.band.isNull() ? tr("laid") : tr("not yet"));
  if (missed_->count() > 0 && (!p || p->cutout.selection.stamp() != missedOf_)) showMissed({});
  solvePleat_->setValue(p && !p->cutout.alpha.isNull() ? (solvedIn_ > 0 ? tr("%1 s").arg(solvedIn_, 0, 'f', 1) : tr("solved"))
                                                       : tr("not yet"));
  paintPleat_->setValue(masked ? (l->mask.enabled ? tr("on") : tr("off")) : tr("no mask"));
  groundPleat_->setValue(ground_->currentText().section(QLatin1Char(':'), 0, 0));
  clean_->setChecked(p && p->cutout.useClean);
  for (QCheckBox* b : {clean_, original_}) b->setEnabled(p && !p->cutout.clean.isNull());
  if (masked && ground_->currentIndex() == kAutomatic && groundFor_ == 0) findGround(p->shown(), l->mask.coverage);
}

// The automatic ground follows the solved edge, not every stroke of the brush.
void CutOut::findGround(const image::TiledImage& colours, const image::TiledImage& mask) {
  groundFor_ = mask.stamp();
  desk_.aside().ask<base::Result<std::array<double, 3>>>(
      QStringLiteral("ground"), [colours, mask] { return matte::contrastingGround(colours, mask); },
      [this](const base::Result<std::array<double, 3>>& found) {
        if (!found.ok() || ground_->currentIndex() != kAutomatic) return;
        chosenGround_ = {Ground::Kind::flat, *found};
        emit changed();
      });
}

void CutOut::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  const scene::Layer* l = scene::findLayer(desk_.document().shown(), desk_.document().active());
  const auto* p = l ? l->picture() : nullptr;
  const Pleat* open = pleats_->current();
  if (!p) return;
  if (open == bandPleat_) bandOverlay_.paint(painter, p->cutout.band, toWidget, widget, LabelOverlay::Style::band);
  if (open == guessPleat_) hintOverlay_.paint(painter, p->cutout.hints, toWidget, widget, LabelOverlay::Style::hints);
  if (open == shapePleat_) shape_->paintOver(painter, toWidget);
  if (open == earlierPleat_) earlier_->paintOver(painter, toWidget, widget);
  const bool bandShown = open == bandPleat_ && !p->cutout.band.isNull();
  if (open == guessPleat_ || open == colourPleat_ || open == drawPleat_ || open == savedPleat_ ||
      (open == bandPleat_ && !bandShown)) {
    selectionOverlay_.paint(painter, p->cutout.selection, toWidget, widget, LabelOverlay::Style::outline);
  }
}

NextStep CutOut::nextStep() const {
  auto* self = const_cast<CutOut*>(this);
  const auto* p = activePicture();
  if (!p) return {tr("Choose the picture with the subject"), tr("Click its card in the sheet at the left."), {}, {}};
  const QString who = activeName();
  if (desk_.jobs().running()) return {desk_.jobs().name(), tr("You can go on looking meanwhile."), {}, {}};
  if (p->cutout.selection.isNull() && p->cutout.alpha.isNull()) {
    return {tr("Guess the subject of %1").arg(who),
            tr("The program finds what stands in front. Strokes or outlines mend what it misses."), tr("Guess"),
            [self] { self->guess(true); }};
  }
  if (p->cutout.band.isNull() && p->cutout.alpha.isNull()) {
    return {tr("Find the undecided band"),
            tr("Mend the selection with hint strokes if a part is missing. Then: hair, wool and soft edges lie inside the band."),
            tr("Find the band"), [self] { self->findBand(); }};
  }
  if (p->cutout.alpha.isNull()) {
    return {tr("Solve the edge"), tr("Solving finds every strand in the band. Paint it first where you know better."),
            tr("Solve"), [self] { self->solve(); }};
  }
  if (pleats_->current() == paintPleat_) {
    return onTo(
        kPlace, tr("Check the edge of %1").arg(who),
        tr("Look along it at 1:1 on this ground; reveal and hide where something is missing or too much. Then set it in place."),
        tr("Go on to Place"));
  }
  return {tr("Check the edge of %1").arg(who),
          tr("Look along it at 1:1 on this ground; paint the mask where something is missing. Then go on to Place."),
          tr("Paint the mask"), [self] { self->pleats_->open(self->paintPleat_); }};
}

std::pair<RunOfWork::Stitch, QString> CutOut::state() const {
  int cut = 0, begun = 0;
  for (const auto& l : scene::allLayers(desk_.scene())) {
    if (const auto* p = l->picture()) {
      cut += !l->mask.coverage.isNull();
      begun += l->mask.coverage.isNull() && (!p->cutout.selection.isNull() || !p->cutout.band.isNull());
    }
  }
  if (begun > 0) return {RunOfWork::Stitch::loose, tr("one edge open")};
  if (cut == 0) return {RunOfWork::Stitch::none, tr("nothing cut yet")};
  return {RunOfWork::Stitch::tight, cut == 1 ? tr("one subject cut") : tr("%1 subjects cut").arg(cut)};
}

}  // namespace hseam::app
