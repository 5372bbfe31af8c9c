#pragma once

#include <QWidget>

#include "app/canvas/view.h"
#include "app/document/desk.h"
#include "app/instruments/path_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The pleat of the path: drawing, fitting, joining, in and out. The path belongs to the active picture layer.
class DrawPath : public QWidget {
  Q_OBJECT

 public:
  DrawPath(Desk& desk, std::function<View()> view, QWidget* parent = nullptr);
  PathTool& tool() { return tool_; }
  void refresh();
  /// "12 points", what the pleat's line says.
  QString words() const;

  /// Along the selection, else the mask, within the tolerance of the field.
  void fit();

 signals:
  void changed();

 private:
  path::Path shownPath() const;
  using Asked = std::pair<scene::LayerId, path::Path>;
  Asked asked() const;
  bool isStill(const Asked& asked);
  void keep(const path::Path& path, const QString& how);
  void fewer();
  void snap();
  void tellOf(const path::Path& path);
  void toSelection();
  void readFile();
  void writeFile();
  void onEachOutline(const std::function<path::Outline(const path::Outline&)>& change, const QString& how);

  Desk& desk_;
  std::function<View()> view_;
  PathTool tool_;
  QComboBox* joins_;
  ValueField* tolerance_;
  QCheckBox *acts_, *through_;
  QLabel* reading_;
  scene::LayerId layer_;
  std::shared_ptr<const path::Path> readFor_;  // the path that the reading tells of
};

}  // namespace hseam::app
