#pragma once

#include "app/stations/cut_out/selecting_page.h"

#include "app/canvas/instrument.h"
#include "app/widgets/value_field.h"
#include "core/select/colour_reach.h"
#include "core/select/shape.h"

class QCheckBox;
class QComboBox;
class QLabel;

namespace hseam::app {

/// Points at colours of the shown picture.
class ColourPick : public Instrument {
 public:
  ColourPick(std::function<void(QPointF at, bool further)> picked, std::function<QString()> words)
      : picked_(std::move(picked)), words_(std::move(words)) {}
  void press(const Touch& touch) override { picked_(touch.at, touch.modifiers & Qt::ShiftModifier); }
  QString doing() const override { return words_(); }

 private:
  std::function<void(QPointF, bool)> picked_;
  std::function<QString()> words_;
};

/// The page of choosing by colour: what is pointed at, how far it reaches, and what becomes of the selection.
class ChooseColour : public SelectingPage {
  Q_OBJECT

 public:
  explicit ChooseColour(Desk& desk);
  Instrument* instrument() override { return &tool_; }
  /// Another layer, or nothing: what was pointed at is forgotten.
  void refresh() override;
  QString words() const override;

 private:
  void pick(QPointF at, bool further);
  /// Works the selection out beside the window; keep: as a step, else as a draft.
  void choose(bool keep);
  void forget();

  ColourPick tool_;
  ValueField *reach_, *shoulder_;
  QComboBox* combine_;
  QCheckBox *joined_, *unwanted_;
  QLabel* samplesShown_;
  std::vector<std::array<double, 3>> samples_;
  std::vector<base::Point> seeds_;
  image::TiledImage before_;  // the selection that the choice goes into
  scene::LayerId layer_;
};

}  // namespace hseam::app
