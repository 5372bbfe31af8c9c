#pragma once

#include <QWidget>

#include "app/document/session.h"
#include "app/widgets/value_field.h"

class QLabel;
class QPushButton;

namespace hseam::app {

/// By how much a lens would draw a distance out of focus, as a suggestion: from what the scene's picture says of its camera.
class LensBlur : public QWidget {
  Q_OBJECT

 public:
  explicit LensBlur(Session& session, QWidget* parent = nullptr);
  void refresh();

 signals:
  void radiusAsked(double px);

 private:
  /// Focal length of the scene's camera in px of the canvas.
  double focalPx() const;
  const scene::PictureContent* plate() const;

  Session& session_;
  ValueField *focal_, *aperture_, *focus_, *distance_;
  QLabel* told_;
  QPushButton* use_;
  double radius_ = 0;
  std::uint64_t filledFrom_ = 0;  // the picture whose EXIF is in the fields
};

}  // namespace hseam::app
