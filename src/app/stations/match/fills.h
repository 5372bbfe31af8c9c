#pragma once

#include "app/stations/page.h"

#include "app/instruments/line_tool.h"
#include "app/widgets/tone_colours.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;
class QPushButton;
class QStackedWidget;

namespace hseam::app {

/// The page of layers that are made of numbers: colours, gradients, noise, shapes and strokes along a path.
class Fills : public Page {
  Q_OBJECT

 public:
  explicit Fills(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// Null: no gradient is in hand.
  Instrument* instrument() override;

 private:
  const scene::FillContent* active() const;
  void add(const scene::Fill& fill);
  /// The active picture's path as a shape, or stitched along.
  void addFromPath(bool stitched);
  void edit(const scene::Fill& fill, bool keep);
  void editStroke(const path::StrokeStyle& style, bool keep);
  void apply(const scene::FillContent& fill, const scene::Mask& mask, bool keep);
  QPushButton* colourButton(const QString& name, const std::function<std::array<double, 3>*(scene::Fill&)>& which);
  QWidget* gradientPage();
  std::optional<QLineF> line() const;
  QWidget* noisePage();
  QWidget* strokePart();

  LineTool gradient_;
  ToneColours* stops_;
  QStackedWidget* pages_;
  QWidget* stroke_;
  QComboBox* form_;
  ValueField *begins_, *ends_, *size_, *octaves_, *seed_, *width_, *dash_, *gap_;
  QCheckBox* round_;
};

}  // namespace hseam::app
