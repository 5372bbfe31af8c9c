#pragma once

#include "app/stations/cut_out/selecting_page.h"

#include "app/instruments/brush.h"
#include "app/instruments/outline_tool.h"
#include "app/stations/cut_out/choose_colour.h"
#include "app/widgets/value_field.h"
#include "core/select/subject_guess.h"

class QButtonGroup;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QToolButton;

namespace hseam::app {

/// The page of the guess: what the program sees in the picture, to choose from and to join; hint strokes that correct it; places
/// it is not sure of.
class GuessSubject : public SelectingPage {
  Q_OBJECT

 public:
  explicit GuessSubject(Desk& desk);
  Instrument* instrument() override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  QString words() const override;
  /// Another layer, or another selection: what was seen in another picture is forgotten.
  void refresh() override;
  void guess(bool withHints);
  /// The next place that the guess is unsure of; by −1: the one before. False: there is none.
  bool stepDoubt(int by);

 signals:
  /// Look at this place, px of the picture.
  void placeAsked(QRectF place);

 private:
  struct Looked {
    image::TiledImage selection;
    select::SeenSubjects seen;
  };
  static base::Result<Looked> lookAt(const image::TiledImage& source, const select::GuessOptions& options,
                                     base::Executor& executor, const base::Progress& progress);
  void look(select::GuessOptions options, const QString& how);
  void take(const select::SeenSubjects& seen, const image::TiledImage& source);
  void showCandidates(const image::TiledImage& source);
  /// Selects all candidates that are marked, joined.
  void selectMarked();
  void pickAt(QPointF at, bool further);
  void showConfidence();
  std::optional<Brush::Target> hintTarget() const;
  const scene::PictureContent* picture() const;

  Brush hints_;
  OutlineTool box_;
  ColourPick pick_;
  QButtonGroup* pointing_;
  ValueField* hintSize_;
  QWidget* candidatesShown_;
  QHBoxLayout* row_;
  QLabel* confidence_;
  QPushButton* doubt_;
  QList<QToolButton*> pictures_;
  select::SeenSubjects seen_;
  std::uint64_t seenIn_ = 0;  // the stamp of the picture that it was seen in
  int place_ = -1;            // of the doubtful ones
  LabelOverlay hintOverlay_;
};

}  // namespace hseam::app
