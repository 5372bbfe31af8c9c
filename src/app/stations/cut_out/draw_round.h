#pragma once

#include "app/stations/cut_out/selecting_page.h"

#include "app/instruments/edge_tool.h"
#include "app/instruments/outline_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;

namespace hseam::app {

/// The page of outlines drawn by hand or along edges, and of what reshapes a selection.
class DrawRound : public SelectingPage {
  Q_OBJECT

 public:
  explicit DrawRound(Desk& desk);
  Instrument* instrument() override;
  QString words() const override;

 private:
  void drawn(OutlineTool::Kind kind, const QPolygonF& outline);
  void findEdgeWays(const QPointF& from, int level, std::function<void(const select::EdgeWays&)> found);
  /// `reshape` gets the number of the field "reshape by".
  void reshape(const std::function<base::Result<image::TiledImage>(const image::TiledImage&, double, base::Executor&)>& reshape,
               const QString& how);
  void invertSelection();
  const scene::PictureContent* picture() const;

  OutlineTool outline_;
  EdgeTool alongEdges_;
  QComboBox *shape_, *combine_;
  QCheckBox* snap_;
  ValueField* reshapeBy_;
};

}  // namespace hseam::app
