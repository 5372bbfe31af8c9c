#pragma once

#include "app/stations/page.h"

#include "app/canvas/view.h"
#include "app/instruments/path_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The page of the path: drawing, fitting, joining, in and out. The path belongs to the active picture layer.
class DrawPath : public Page {
  Q_OBJECT

 public:
  DrawPath(Desk& desk, std::function<View()> view);
  Instrument* instrument() override { return &tool_; }
  void changeView(View& v) const override { v.uncut = true; }
  void refresh() override;
  /// "12 points", what the page's line says.
  QString words() const override;

  /// Along the selection, else the mask, within the tolerance of the field.
  void fit();

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
