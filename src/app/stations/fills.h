#pragma once

#include <QWidget>

#include "app/canvas/instrument.h"
#include "app/document/desk.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;
class QPushButton;
class QStackedWidget;

namespace hseam::app {

/// Draws a gradient's line on the picture.
class GradientTool : public Instrument {
 public:
  explicit GradientTool(Desk& desk) : desk_(desk) {}
  void press(const Touch& touch) override { from_ = touch.at, held_ = true; }
  void move(const Touch& touch) override { draw(touch.at, false); }
  void release(const Touch& touch) override;
  void cancel() override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return QObject::tr("draw where the gradient begins and ends"); }

 private:
  void draw(const QPointF& to, bool keep);
  Desk& desk_;
  QPointF from_;
  bool held_ = false;
};

/// The pleat of layers that are made of numbers: colours, gradients, noise, shapes and strokes along a path.
class Fills : public QWidget {
  Q_OBJECT

 public:
  explicit Fills(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  QString words() const;
  /// Null: no gradient is in hand.
  Instrument* tool();

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
  QWidget* noisePage();
  QWidget* strokePart();

  Desk& desk_;
  GradientTool gradient_;
  QStackedWidget* pages_;
  QWidget* stroke_;
  QComboBox* form_;
  ValueField *begins_, *ends_, *size_, *octaves_, *seed_, *width_, *dash_, *gap_;
  QCheckBox* round_;
};

}  // namespace hseam::app
