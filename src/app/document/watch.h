#pragma once
// The scene's readings and findings, worked out beside the work and never in its way.

#include <QTimer>
#include <optional>

#include "app/document/lane.h"
#include "app/document/session.h"
#include "core/findings/report.h"

namespace hseam::app {

class Watch : public QObject {
  Q_OBJECT

 public:
  Watch(Session& session, Lane& background, QObject* parent = nullptr);
  /// The latest report; nothing before the first one. It may be of an earlier scene: see isOfNow.
  const std::optional<findings::Report>& report() const { return report_; }
  /// Told on the UI thread why there is none: a picture that cannot be read.
  const QString& failure() const { return failure_; }
  bool isOfNow() const { return current_; }
  /// True while the user looks at findings: then it is read soon after every change, else after a while of rest.
  void setKeen(bool keen);
  bool idle() const { return !waiting_.isActive() && !background_.running(); }

 signals:
  void changed();

 private:
  void sceneChanged();
  void read();
  Session& session_;
  Lane& background_;
  QTimer waiting_;
  std::optional<findings::Report> report_;
  QString failure_;
  bool keen_ = false;
  bool current_ = false;
};

}  // namespace hseam::app
