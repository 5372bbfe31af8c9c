#pragma once

#include <QWidget>

#include "app/document/desk.h"
#include "app/instruments/warp_tool.h"

class QButtonGroup;
class QPushButton;

namespace hseam::app {

/// The pleat that bends a picture: onto a banner, round a corner, with a crease.
class Bend : public QWidget {
  Q_OBJECT

 public:
  explicit Bend(Desk& desk, QWidget* parent = nullptr);
  WarpTool& tool() { return tool_; }
  void refresh();
  QString words() const;

 signals:
  void changed();

 private:
  Desk& desk_;
  WarpTool tool_;
  QButtonGroup* ways_;
  QPushButton *split_, *straight_, *all_;
};

}  // namespace hseam::app
