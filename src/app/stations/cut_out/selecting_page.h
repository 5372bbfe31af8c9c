#pragma once

#include "app/canvas/label_overlay.h"
#include "app/stations/page.h"

namespace hseam::app {

/// A page that works on the selection: the picture is shown uncut, with the selection's outline.
class SelectingPage : public Page {
  Q_OBJECT

 public:
  using Page::Page;
  void changeView(View& view) const override { view.uncut = true; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override {
    if (const auto* p = shownPicture())
      selectionOverlay_.paint(painter, p->cutout->selection, toWidget, widget, LabelOverlay::Style::outline);
  }

 private:
  LabelOverlay selectionOverlay_;
};

}  // namespace hseam::app
