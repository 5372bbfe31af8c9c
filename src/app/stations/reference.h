#pragma once

#include <QWidget>
#include <optional>

#include "app/document/desk.h"

class QCheckBox;
class QLabel;

namespace hseam::app {

/// A picture or a state of the scene, pinned beside the canvas in every station until it is taken away.
class Reference : public QWidget {
  Q_OBJECT

 public:
  explicit Reference(Desk& desk, QWidget* parent = nullptr);
  const std::optional<scene::Scene>& scene() const { return scene_; }
  bool goesAlong() const;
  void pinPicture(const QString& path);
  void pinScene();
  void takeAway();

 signals:
  void changed();

 private:
  void pin(scene::Scene scene, const QString& name);
  Desk& desk_;
  std::optional<scene::Scene> scene_;
  QCheckBox* along_;
  QLabel* name_;
};

}  // namespace hseam::app
