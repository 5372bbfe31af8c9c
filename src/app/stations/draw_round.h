#pragma once

#include <QWidget>

#include "app/document/desk.h"
#include "app/instruments/edge_tool.h"
#include "app/instruments/outline_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;

namespace hseam::app {

/// The pleat of outlines drawn by hand or along edges, and of what reshapes a selection.
class DrawRound : public QWidget {
  Q_OBJECT

 public:
  explicit DrawRound(Desk& desk, QWidget* parent = nullptr);
  Instrument& tool();
  QString words() const;

 signals:
  void changed();

 private:
  void drawn(OutlineTool::Kind kind, const QPolygonF& outline);
  void findEdgeWays(const QPointF& from, int level, std::function<void(const select::EdgeWays&)> found);
  /// `reshape` gets the number of the field "reshape by".
  void reshape(const std::function<base::Result<image::TiledImage>(const image::TiledImage&, double, base::Executor&)>& reshape,
               const QString& how);
  void invertSelection();
  const scene::PictureContent* picture() const;

  Desk& desk_;
  OutlineTool outline_;
  EdgeTool alongEdges_;
  QComboBox *shape_, *combine_;
  QCheckBox* snap_;
  ValueField* reshapeBy_;
};

}  // namespace hseam::app
