#pragma once

#include "app/canvas/label_overlay.h"
#include "app/instruments/brush.h"
#include "app/stations/choose_colour.h"
#include "app/stations/draw_path.h"
#include "app/stations/draw_round.h"
#include "app/stations/earlier_cuts.h"
#include "app/stations/guess_subject.h"
#include "app/stations/paint_mask.h"
#include "app/stations/places.h"
#include "app/stations/saved_selections.h"
#include "app/stations/shape_edge.h"
#include "app/stations/station.h"
#include "core/select/shape.h"

class QCheckBox;
class QComboBox;

namespace hseam::app {

class CutOut : public Station {
  Q_OBJECT

 public:
  explicit CutOut(Desk& desk, QWidget* parent = nullptr);
  QString name() const override { return tr("Cut out"); }
  View view() const override;
  Instrument* instrument() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  void refresh() override;

  ShapeEdge& shapeEdge() { return *shape_; }
  /// The next place that the guess is unsure of, or that the found band misses. False: there is none, or another pleat is open.
  bool stepDoubt(int by) {
    return (pleats_->current() == guessPleat_ && guess_->stepDoubt(by)) ||
           (pleats_->current() == bandPleat_ && missed_->step(by));
  }
  bool marksStretches() const { return pleats_->current() == shapePleat_; }
  /// The brush that paints the mask, while its pleat is open.
  Brush* maskBrush();

 signals:
  void paintInSceneAsked();
  /// Look at this place, px of the active picture.
  void placeAsked(QRectF place);

 public slots:
  void guess(bool withHints);
  void findBand();
  void makeBand();
  void solve();
  /// A path along the selection, within the tolerance of its pleat.
  void fitPath() { path_->fit(); }

 private:
  void buildBand();
  void buildSolve();
  void buildGround();
  std::optional<Brush::Target> bandTarget() const;
  void chooseGround(int index);
  void findGround(const image::TiledImage& colours, const image::TiledImage& mask);
  void showMissed(std::vector<base::Rect> places);

  Pleat *guessPleat_, *colourPleat_, *drawPleat_, *savedPleat_, *pathPleat_, *bandPleat_, *solvePleat_, *shapePleat_,
      *paintPleat_, *groundPleat_, *earlierPleat_;
  Brush band_;
  QComboBox* ground_;
  ValueField *bandWidth_, *bandTip_;
  QCheckBox *original_, *clean_, *ghost_;
  GuessSubject* guess_;
  Places* missed_;              // by the found band
  std::uint64_t missedOf_ = 0;  // the selection's stamp
  PaintMask* paint_;
  DrawRound* draw_;
  ShapeEdge* shape_;
  EarlierCuts* earlier_;
  SavedSelections* saved_;
  DrawPath* path_;
  ChooseColour* colour_;
  Ground chosenGround_{Ground::Kind::flat, {0.36, 0.60, 0.38}};
  std::uint64_t groundFor_ = 0;  // the mask's stamp the automatic ground was found for
  double solvedIn_ = 0;
  LabelOverlay selectionOverlay_, bandOverlay_, hintOverlay_;
};

}  // namespace hseam::app
