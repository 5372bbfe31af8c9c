#pragma once

#include "app/stations/cut_out/band_page.h"
#include "app/stations/cut_out/choose_colour.h"
#include "app/stations/cut_out/draw_path.h"
#include "app/stations/cut_out/draw_round.h"
#include "app/stations/cut_out/earlier_cuts.h"
#include "app/stations/cut_out/ground_page.h"
#include "app/stations/cut_out/guess_subject.h"
#include "app/stations/cut_out/move_thing.h"
#include "app/stations/cut_out/saved_selections.h"
#include "app/stations/cut_out/shape_edge.h"
#include "app/stations/cut_out/solve_page.h"
#include "app/stations/cut_out/swap_part.h"
#include "app/stations/cut_out/take_out.h"
#include "app/stations/paint/paint_mask.h"
#include "app/stations/station.h"

namespace hseam::app {

class CutOut : public Station {
  Q_OBJECT

 public:
  explicit CutOut(Desk& desk);
  QString name() const override { return tr("Cut out"); }
  View view() const override;
  Instrument* instrument() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  void refresh() override;

  ShapeEdge& shapeEdge() { return *shape_; }
  /// The next place that the guess is unsure of, or that the found band misses. False: there is none, or another page is open.
  bool stepDoubt(int by);
  bool marksStretches() const { return currentPage() == shape_; }
  /// The brush that paints the mask, while its page is open.
  Brush* maskBrush();

 signals:
  void paintInSceneAsked();
  /// Look at this place, px of the active picture.
  void placeAsked(QRectF place);

 public slots:
  void guess(bool withHints) { guess_->guess(withHints); }
  void findBand() { band_->find(); }
  void solve() { solve_->solve(); }
  /// A path along the selection, within the tolerance of its page.
  void fitPath() { path_->fit(); }

 private:
  GuessSubject* guess_;
  DrawPath* path_;
  BandPage* band_;
  SolvePage* solve_;
  ShapeEdge* shape_;
  PaintMask* paint_;
  GroundPage* ground_;
  TakeOut* takeOut_;
  MoveThing* move_;
};

}  // namespace hseam::app
