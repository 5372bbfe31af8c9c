#pragma once

#include <QObject>
#include <QPainter>

#include "app/document/lane.h"
#include "app/document/session.h"
#include "core/findings/seam_heat.h"

namespace hseam::app {

/// The heat of all seams, worked out beside the window whenever the scene has changed, and drawn along them: thin and blue where
/// nothing shows, broad and amber where it gives the picture away.
class HeatView : public QObject {
  Q_OBJECT

 public:
  HeatView(Session& session, Lane& aside, QObject* parent = nullptr) : QObject(parent), session_(session), aside_(aside) {}
  void setOn(bool on);
  bool on() const { return on_; }
  /// Asks for the shown scene's if it is not known yet.
  void refresh();
  void paint(QPainter& painter, const QTransform& toWidget) const;
  const std::vector<std::vector<findings::HeatPlace>>& seams() const { return seams_; }

 signals:
  void changed();

 private:
  Session& session_;
  Lane& aside_;
  bool on_ = false;
  scene::Scene of_;
  bool known_ = false;
  std::vector<std::vector<findings::HeatPlace>> seams_;
};

}  // namespace hseam::app
