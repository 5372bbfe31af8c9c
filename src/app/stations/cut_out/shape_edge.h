#pragma once

#include "app/stations/page.h"

#include "app/instruments/stretch_tool.h"
#include "app/widgets/value_field.h"
#include "core/matte/whole_cut.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The page that marks stretches of a finished cut's edge, solves them as another kind, and shapes edges by kind or stretch. The
/// solved alpha is never touched: everything stays changeable.
class ShapeEdge : public Page {
  Q_OBJECT

 public:
  explicit ShapeEdge(Desk& desk);
  Instrument* instrument() override { return &tool_; }
  void refresh() override;
  /// "nothing", "3 stretches, shaped".
  QString words() const override;
  /// All marks over the picture, that in hand boldly.
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  const std::optional<matte::MarkedStretch>& mark() const { return mark_; }
  /// Takes a mark in hand: one that the plan knows already if it is much the same place.
  void take(const matte::MarkedStretch& mark);

 private:
  enum Where { kWhole, kSolid, kSoft, kHair, kMarked };
  Where where() const;
  const matte::EdgePlan& plan() const;
  /// What the plan knows of the mark in hand; null: nothing.
  const matte::MarkedStretch* knownMark() const;
  matte::EdgeShape shapeHere() const;
  matte::EdgePlan planWith(const matte::EdgeShape& shape) const;
  void placeMarked(int first, int count);
  void forgetMark();
  void solveAs(matte::EdgeKind kind);
  void asCrisp();
  void shape(bool keep);
  void propose(const matte::EdgePlan& plan, const QString& how, bool keep);
  void show(const matte::EdgePlan& plan);
  void showMark();
  void findOutline();

  StretchTool tool_;
  QLabel* marked_;
  QComboBox* where_;
  ValueField *reach_, *offset_, *width_, *tail_, *round_, *specks_;
  QList<QPushButton*> forMark_;
  std::optional<matte::MarkedStretch> mark_;
  std::shared_ptr<const matte::Unrolled> outline_;  // of the solved alpha
  std::vector<matte::EdgeReading> forms_;
  std::uint64_t outlineOf_ = 0;
  scene::LayerId layer_;
  mutable matte::EdgePlan plan_;  // as read from planOf_
  mutable std::string planOf_;
};

}  // namespace hseam::app
