#pragma once

#include "app/stations/page.h"

#include "app/canvas/label_overlay.h"
#include "app/instruments/brush.h"
#include "app/widgets/value_field.h"

class QLabel;
class QPushButton;

namespace hseam::app {

/// Where of the scene the active cut-out is compared with: around it, or what is marked by hand on the picture.
class CompareWith : public Page {
  Q_OBJECT

 public:
  explicit CompareWith(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// Marks on the picture; null where no picture is in hand.
  Instrument* instrument() override { return picture() ? &brush_ : nullptr; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  const scene::PictureContent* picture() const;
  std::optional<Brush::Target> target() const;

  Brush brush_;
  LabelOverlay overlay_;
  ValueField* size_;
  QLabel* told_;
  QPushButton* around_;
};

}  // namespace hseam::app
