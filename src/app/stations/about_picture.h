#pragma once

#include <QWidget>

#include "core/scene/scene.h"

class QFormLayout;

namespace hseam::app {

/// What the file of a picture layer says of itself: camera, lens, exposure, rights.
class AboutPicture : public QWidget {
  Q_OBJECT

 public:
  explicit AboutPicture(QWidget* parent = nullptr);
  /// null: no picture is in hand.
  void show(const scene::PictureContent* picture);

 private:
  std::uint64_t shown_ = 0;  // stamp of the picture whose rows stand
  QFormLayout* rows_;
};

/// "f/2.8 · 1/125 s · ISO 400", what is known of it.
QString exposureWords(const image::Metadata& about);

}  // namespace hseam::app
