#pragma once

#include "app/stations/page.h"

#include "app/instruments/line_tool.h"
#include "app/instruments/pick_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;
class QPushButton;
class QStackedWidget;

namespace hseam::app {

/// The page of what a mask is made of beside paint and path: gradients, tones, a colour, another layer's shape; how much of the
/// layer shows at least, how soft the mask is, and whether it goes along with its picture.
class MaskParts : public Page {
  Q_OBJECT

 public:
  explicit MaskParts(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// Null: the part in hand needs nothing from the picture.
  Instrument* instrument() override;

 private:
  const scene::Layer* shown() const;
  const scene::MaskPart* part() const;
  void add(const scene::MaskPart& part, const QString& how);
  void edit(const std::function<void(scene::MaskNumbers&)>& change, const QString& how, bool keep);
  void editPart(const std::function<void(scene::MaskPart&)>& change, bool keep);
  ValueField* field(const QString& name, const ValueField::Range& range, const QString& tip,
                    const std::function<void(scene::MaskNumbers&, double)>& put);
  QWidget* tonesPage();
  QWidget* colourPage();
  QWidget* layerPage();
  void pick(const QPointF& at);
  std::optional<QLineF> line() const;

  LineTool line_;
  PickTool pick_;
  QComboBox *list_, *joins_, *layers_;
  QCheckBox *inverted_, *goesAlong_;
  QPushButton* remove_;
  QWidget* partBox_;
  QStackedWidget* pages_;
  ValueField *strength_, *low_, *high_, *toneSoftness_, *reach_, *colourSoftness_, *lowest_, *softness_;
};

}  // namespace hseam::app
