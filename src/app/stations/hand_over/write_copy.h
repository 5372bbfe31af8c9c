#pragma once

#include <QTimer>

#include "app/stations/hand_over/permission_question.h"
#include "app/stations/page.h"
#include "app/widgets/value_field.h"
#include "core/deliver/export.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;

namespace hseam::app {

/// Title, maker and rights, and that it is a composite, written into the file for whoever opens it.
class WhoseItIs : public Page {
  Q_OBJECT

 public:
  explicit WhoseItIs(Desk& desk);
  image::Metadata metadata() const;

 private:
  std::vector<QLineEdit*> lines_;  // title, creator, rights
  QCheckBox* composite_;
};

/// The picture for others, as one file.
class WriteCopy : public Page {
  Q_OBJECT

 public:
  WriteCopy(Desk& desk, const WhoseItIs& whose);
  void refresh() override;
  deliver::ExportOptions options() const;
  /// OpenRaster is chosen: options() say nothing then.
  bool isLayered() const;
  /// Whether the kind of file that is chosen has one.
  bool hasQuality() const;
  void setQuality(int quality);
  /// Colours are written in the space of an ICC profile of RGB; empty: sRGB. False: it cannot be used, and that is said.
  bool useProfile(const QString& path);
  /// Nothing stands against it, or somebody answers for it.
  bool mayGoOut() const { return permission_->answered(); }
  /// Asks where to, and writes.
  void ask();
  /// Writes without asking; the caller has asked.
  void write(const QString& path);
  /// The name of the file that was written last; empty: none.
  const QString& written() const { return written_; }

 private:
  void writeLayered(const QString& path);
  void chooseProfile(int index);
  void listProfiles();
  void weigh();
  void isWritten(const QString& path);
  const WhoseItIs& whose_;
  QComboBox *kind_, *profile_;  // of the profile: sRGB, the file that was chosen, if there is one, and another one
  QString profilePath_;
  QSpinBox* longSide_;
  ValueField* quality_;
  QCheckBox *alpha_, *wide_, *plate_;
  QLabel* weight_;
  PermissionQuestion* permission_;
  QPushButton* go_;
  /// What the shown weight is of, or will be.
  struct Weighed {
    scene::Scene scene;
    deliver::ExportOptions options;
    bool plate;
  };
  /// What is written: the scene, or its plate. Takes work: not on the window's thread.
  std::function<base::Result<scene::Scene>(base::Executor&, const base::Progress&)> toWrite() const;
  std::optional<Weighed> weighed_;
  QTimer weighLater_;
  QString written_;
};

}  // namespace hseam::app
