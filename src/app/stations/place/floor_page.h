#pragma once

#include "app/stations/page.h"

#include "app/instruments/floor_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// Horizon, camera and real heights: how large a subject stands where its foot is, and by how much it is off.
class FloorPage : public Page {
  Q_OBJECT

 public:
  explicit FloorPage(Desk& desk);
  Instrument* instrument() override { return &tool_; }
  void refresh() override;
  QString words() const override;

  /// A placement whose foot stays and whose height is what the floor asks for; nothing while the real height or the subject's own
  /// outline is unknown, or its foot is above the horizon.
  std::optional<scene::Placement> standing(const scene::Placement& now) const;
  /// True if the active subject shall keep its real size while it is moved.
  bool keepsSize() const;

 private:
  const scene::PictureContent* picture() const;
  void findOutline();
  /// Its height on the canvas over what the floor asks for.
  std::optional<double> ratio(const scene::Placement& now) const;
  void stand();
  void findIt();
  void guess();
  void setFloor(const std::function<void(scene::Floor&)>& change, bool keep);

  FloorTool tool_;
  ValueField *height_, *angle_, *real_, *own_;
  QLabel *reading_, *told_;
  QCheckBox* keeps_;
  QPushButton* here_;
  std::uint64_t outlineOf_ = 0;
  scene::LayerRef guessedOf_;          // the picture whose lines were asked
  std::optional<base::Rect> covered_;  // layer px of the active subject
  base::Point foot_;
};

}  // namespace hseam::app
