#pragma once

#include "app/stations/page.h"

class QCheckBox;
class QComboBox;

namespace hseam::app {

/// What is shown behind the cut while its edge is checked; never part of the picture.
class GroundPage : public Page {
  Q_OBJECT

 public:
  explicit GroundPage(Desk& desk);
  QString words() const override;
  void changeView(View& view) const override;
  void refresh() override;
  /// The automatic ground follows the solved edge, not every stroke of the brush.
  void findAnew();

 private:
  void choose(int index);
  void findFor(const image::TiledImage& colours, const image::TiledImage& mask);

  QComboBox* choice_;
  QCheckBox* ghost_;
  Ground chosen_{Ground::Kind::flat, {0.36, 0.60, 0.38}};
  std::uint64_t foundFor_ = 0;  // the mask's stamp that the automatic ground was found for
};

}  // namespace hseam::app
