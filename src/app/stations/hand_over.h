#pragma once

#include <QTimer>

#include "app/stations/station.h"
#include "app/widgets/value_field.h"
#include "core/deliver/export.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QSpinBox;

namespace hseam::app {

class HandOver : public Station {
  Q_OBJECT

 public:
  explicit HandOver(Desk& desk, QWidget* parent = nullptr);
  QString name() const override { return tr("Hand over"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  void refresh() override;
  deliver::ExportOptions options() const;
  /// Writes without asking; the caller has asked.
  void write(const QString& path);

 private:
  void ask();
  void writeLayered(const QString& path);
  void weigh();
  QComboBox* kind_;
  QSpinBox* longSide_;
  ValueField* quality_;
  QCheckBox *alpha_, *wide_;
  std::vector<QLineEdit*> about_;  // title, creator, rights
  QLabel* weight_;
  /// What the shown weight is of, or will be.
  struct Weighed {
    scene::Scene scene;
    deliver::ExportOptions options;
  };
  std::optional<Weighed> weighed_;
  QTimer weighLater_;
  QString written_;
};

}  // namespace hseam::app
