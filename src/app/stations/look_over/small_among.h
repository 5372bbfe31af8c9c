#pragma once

#include <QImage>
#include <QWidget>

#include "app/document/lane.h"
#include "app/document/session.h"

namespace hseam::app {

/// The scene as small as it is seen in an overview, among the pictures that it is made of: whether it still reads, and whether
/// one part of it jumps out.
class SmallAmong : public QWidget {
  Q_OBJECT

 public:
  explicit SmallAmong(Session& session, Lane& aside, QWidget* parent = nullptr);
  void refresh();
  QSize sizeHint() const override { return {260, 132}; }
  QSize minimumSizeHint() const override { return {200, 132}; }
  const QImage& scenePicture() const { return scene_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void ask();
  Session& session_;
  Lane& aside_;
  scene::Scene of_;  // asked for
  QImage scene_;
  std::vector<QImage> others_;
};

}  // namespace hseam::app
