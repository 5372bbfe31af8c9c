#pragma once

#include "app/instruments/outline_tool.h"
#include "app/stations/page.h"
#include "core/tasks/swap_part.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// A part of the active picture, drawn round loosely, is replaced by what another picture shows of it.
class SwapPart : public Page {
  Q_OBJECT

 public:
  explicit SwapPart(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &outline_; }
  void changeView(View& view) const override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  void swap();
  void tell(const tasks::PartSwap& made);

  OutlineTool outline_;
  QPolygonF part_;         // px of the picture
  scene::LayerId partOf_;  // the layer it was drawn on
  QComboBox* others_;
  QCheckBox *align_, *tone_;
  QPushButton* swap_;
  QLabel* outcome_;
};

}  // namespace hseam::app
