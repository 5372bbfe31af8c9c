#pragma once

#include "app/stations/cut_out/selecting_page.h"

#include "app/instruments/arrow_tool.h"
#include "app/widgets/value_field.h"

class QComboBox;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace hseam::app {

/// The page of selections that are kept: by name and thumbnail, taken up again alone or combined, from and to files; and the one
/// in hand moved, scaled and turned without its pixels, or copied with them to a layer of its own.
class SavedSelections : public SelectingPage {
  Q_OBJECT

 public:
  explicit SavedSelections(Desk& desk);
  /// Drags the selection.
  Instrument* instrument() override { return &move_; }
  void refresh() override;
  QString words() const override;

 private:
  const scene::PictureContent* picture() const;
  void keep();
  void drop();
  void renamed(int row, const QString& name);
  void takeUp();
  void readFile();
  void writeFile();
  void copyToLayer();
  void transform(const base::Affine& map, const QString& how);
  void apply(std::vector<scene::NamedSelection> saved, const QString& how);
  /// What can be combined with: the kept ones, then the layer's own coverages, then other layers.
  struct Source {
    QString name;
    std::function<base::Result<image::TiledImage>(base::Executor&)> make;
  };
  std::vector<Source> sources() const;
  void showThumbnails(const std::vector<scene::NamedSelection>& saved);

  ArrowTool move_;
  QLineEdit* name_;
  QListWidget* list_;
  QComboBox *from_, *how_;
  ValueField *scale_, *turn_;
  QPushButton *keep_, *drop_, *write_, *take_, *copy_, *pieces_, *transform_;
  std::vector<std::uint64_t> shown_;  // stamps of what the list shows
  std::vector<std::string> names_;
  bool filling_ = false;
};

}  // namespace hseam::app
