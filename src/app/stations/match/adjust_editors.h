#pragma once

#include <QStackedWidget>

#include "app/document/lane.h"
#include "app/document/messages.h"
#include "app/document/session.h"
#include "app/instruments/line_tool.h"
#include "app/instruments/tone_tool.h"
#include "app/stations/match/lens_blur.h"
#include "app/widgets/curve_editor.h"
#include "app/widgets/level_lines.h"
#include "app/widgets/number_fields.h"
#include "app/widgets/tint_plane.h"
#include "app/widgets/tone_colours.h"
#include "app/widgets/value_field.h"

class QButtonGroup;
class QLabel;

namespace hseam::app {

/// The controls of the active adjustment layer: every change is shown in the scene while it is made, and kept when it ends.
class AdjustEditors : public QStackedWidget {
  Q_OBJECT

 public:
  explicit AdjustEditors(Session& session, Messages& messages, Lane& aside, QWidget* parent = nullptr);
  void refresh();
  /// The instrument that works on the picture with these controls; null: they have none.
  Instrument* tool();
  static base::Result<scene::TableLookup> tableFrom(const QString& path);

 private:
  void buildCurves();
  void buildLevels();
  void takeChannel(int line);
  void buildTable();
  ValueField* single(const QString& name, const ValueField::Range& range, const QString& tip,
                     const std::function<scene::Adjustment(double)>& make);
  const scene::Adjustment* active() const;
  void edit(const scene::Adjustment& adjustment, bool keep);
  void bend(const scene::CurvePoints& points, bool keep);
  void refreshHistograms();
  bool grabTone(const QPointF& at);
  std::optional<QLineF> rampLine() const;
  void setRamp(const QLineF& line, bool keep);

  Session& session_;
  Messages& messages_;
  Lane& aside_;
  ToneTool tones_;
  LineTool ramp_;
  QButtonGroup* channels_;
  CurveEditor* curve_;
  LevelLines* levels_;
  TintPlane* tints_;
  ValueField *exposure_, *saturation_;
  NumberFields* numbers_;
  LensBlur* lens_;
  ToneColours* toneColours_;
  QLabel* table_;
};

}  // namespace hseam::app
