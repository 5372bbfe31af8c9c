#pragma once

#include <QWidget>

#include "app/document/desk.h"
#include "app/instruments/marks_tool.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The pleat that lines pictures up: by marked places, by their sides, at equal distances, and by looking at differences.
class Arrange : public QWidget {
  Q_OBJECT

 public:
  explicit Arrange(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  QString words() const;
  Instrument* tool() { return &tool_; }
  /// True: the active layer is to be shown as its difference from what lies below.
  bool differences() const;

 signals:
  void changed();

 private:
  void take(const base::Result<scene::Edit>& edit);
  Desk& desk_;
  MarksTool tool_;
  QPushButton* match_;
  QLabel* told_;
  QCheckBox* differences_;
  scene::LayerId marked_;  // the layer that the marks were drawn for
};

}  // namespace hseam::app
