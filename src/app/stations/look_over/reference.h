#pragma once

#include "app/stations/page.h"

#include <optional>

class QCheckBox;
class QLabel;

namespace hseam::app {

/// A picture or a state of the scene, pinned beside the canvas in every station until it is taken away.
class Reference : public Page {
  Q_OBJECT

 public:
  explicit Reference(Desk& desk);
  const std::optional<scene::Scene>& scene() const { return scene_; }
  bool goesAlong() const;
  void pinPicture(const QString& path);
  void pinScene();
  void takeAway();

 private:
  void pin(scene::Scene scene, const QString& name);
  std::optional<scene::Scene> scene_;
  QCheckBox* along_;
  QLabel* name_;
};

}  // namespace hseam::app
