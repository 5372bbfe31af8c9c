#pragma once

#include "app/stations/page.h"

#include "app/instruments/frame_tool.h"
#include "core/render/canvas_change.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QSpinBox;

namespace hseam::app {

/// Crops or extends the canvas to a frame, makes everything larger or smaller, and straightens.
class CanvasSize : public Page {
  Q_OBJECT

 public:
  explicit CanvasSize(Desk& desk);
  void refresh() override;
  Instrument* instrument() override;
  QString words() const override;

 private:
  void buildFrame();
  void buildSize();
  void showFrame();
  void change(const render::CanvasChange& change);

  FrameTool frame_;
  LevelLine level_;
  bool levelling_ = false;
  base::Size known_;
  QSpinBox *left_, *top_, *width_, *height_, *newWidth_;
  QLabel* newHeight_;
  QComboBox* ratios_;
  QDoubleSpinBox* angle_;
};

}  // namespace hseam::app
