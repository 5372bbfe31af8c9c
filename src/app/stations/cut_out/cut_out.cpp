#include "app/stations/cut_out/cut_out.h"

namespace hseam::app {

CutOut::CutOut(Desk& desk) : Station(desk) {
  heading(tr("What is the subject"));
  guess_ = add(new GuessSubject(desk));
  add(new ChooseColour(desk));
  add(new DrawRound(desk));
  add(new SavedSelections(desk));
  path_ = add(new DrawPath(desk, [this] { return view(); }));
  heading(tr("Where it ends"));
  band_ = add(new BandPage(desk));
  solve_ = add(new SolvePage(desk));
  shape_ = add(new ShapeEdge(desk));
  heading(tr("Check and mend the cut"));
  paint_ = add(new PaintMask(desk, tr("Reveal and hide by hand, with a soft or hard tip"), [this] { return view(); }));
  ground_ = add(new GroundPage(desk));
  add(new EarlierCuts(desk, [this] { return shape_->mark(); }));
  heading(tr("What stays behind"));
  takeOut_ = add(new TakeOut(desk));
  move_ = add(new MoveThing(desk));
  add(new SwapPart(desk));
  connect(guess_, &GuessSubject::placeAsked, this, &CutOut::placeAsked);
  connect(band_, &BandPage::placeAsked, this, &CutOut::placeAsked);
  connect(paint_, &PaintMask::sceneAsked, this, &CutOut::paintInSceneAsked);
  connect(solve_, &SolvePage::solved, ground_, &GroundPage::findAnew);
  connect(&desk_.jobs, &Lane::changed, this, [this] { emit changed(); });
  openPage(QStringLiteral("guess"));
}

View CutOut::view() const {
  if (!activePicture()) return {};
  View v = Station::view();
  if (currentPage() == takeOut_) return v;  // a fill is judged in the scene
  v.onlyLayer = desk_.session.active();
  ground_->changeView(v);  // whatever page is open
  return v;
}

Instrument* CutOut::instrument() {
  return activePicture() ? Station::instrument() : nullptr;
}

Brush* CutOut::maskBrush() {
  return currentPage() == paint_ ? &paint_->brush() : nullptr;
}

bool CutOut::stepDoubt(int by) {
  return (currentPage() == guess_ && guess_->stepDoubt(by)) || (currentPage() == band_ && band_->stepMissed(by));
}

void CutOut::refresh() {
  setEnabled(activePicture() != nullptr);
  Station::refresh();
}

NextStep CutOut::nextStep() const {
  auto* self = const_cast<CutOut*>(this);
  const auto* p = activePicture();
  if (!p) return {tr("Choose the picture with the subject"), tr("Click its card in the sheet at the left."), {}, {}};
  const QString who = activeName();
  if (move_->lifted().value != 0 && desk_.session.active() == move_->lifted()) {
    return onTo(kPlace, tr("Set it down where it belongs"), tr("Thing and shadow are both in hand: drag them on the picture."),
                tr("Go on to Place"));
  }
  if (desk_.jobs.running()) return {desk_.jobs.name(), tr("You can go on looking meanwhile."), {}, {}};
  if (p->cutout->selection.isNull() && p->cutout->alpha.isNull()) {
    return {tr("Guess the subject of %1").arg(who),
            tr("The program finds what stands in front. Strokes or outlines mend what it misses."), tr("Guess"),
            [self] { self->guess_->guess(true); }};
  }
  if (p->cutout->band.isNull() && p->cutout->alpha.isNull()) {
    return {tr("Find the undecided band"),
            tr("Mend the selection with hint strokes if a part is missing. Then: hair, wool and soft edges lie inside the band."),
            tr("Find the band"), [self] { self->band_->find(); }};
  }
  if (p->cutout->alpha.isNull()) {
    return {tr("Solve the edge"), tr("Solving finds every strand in the band. Paint it first where you know better."),
            tr("Solve"), [self] { self->solve_->solve(); }};
  }
  if (currentPage() == paint_) {
    return onTo(
        kPlace, tr("Check the edge of %1").arg(who),
        tr("Look along it at 1:1 on this ground; reveal and hide where something is missing or too much. Then set it in place."),
        tr("Go on to Place"));
  }
  return {tr("Check the edge of %1").arg(who),
          tr("Look along it at 1:1 on this ground; paint the mask where something is missing. Then go on to Place."),
          tr("Paint the mask"), [self] { self->openPage(QStringLiteral("paint")); }};
}

std::pair<RunOfWork::Stitch, QString> CutOut::state() const {
  int cut = 0, begun = 0;
  for (const auto& l : scene::allLayers(desk_.session.scene())) {
    if (const auto* p = l->picture()) {
      cut += !l->mask.coverage.isNull();
      begun += l->mask.coverage.isNull() && (!p->cutout->selection.isNull() || !p->cutout->band.isNull());
    }
  }
  if (begun > 0) return {RunOfWork::Stitch::loose, tr("one edge open")};
  if (cut == 0) return {RunOfWork::Stitch::none, tr("nothing cut yet")};
  return {RunOfWork::Stitch::tight, cut == 1 ? tr("one subject cut") : tr("%1 subjects cut").arg(cut)};
}

}  // namespace hseam::app
