#pragma once

#include "app/stations/page.h"
#include "core/findings/kinds.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLineEdit;
class QPushButton;

namespace hseam::app {

/// How strictly the project is judged: a set of tolerances, each of them by hand, which kinds are looked for; sets of one's own.
class Tolerances : public Page {
  Q_OBJECT

 public:
  explicit Tolerances(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// Where sets of one's own are kept, one file each.
  static QString folder();

 private:
  struct Row {
    findings::KindId kind;
    QCheckBox* looked;
    QDoubleSpinBox* tolerance;
  };
  scene::Judging now() const;
  void take();
  void keep();
  void forget();
  void listSets();
  QString fileOf(const QString& name) const;

  QComboBox* sets_;
  QLineEdit* name_;
  QPushButton *keep_, *forget_, *again_;
  std::vector<Row> rows_;
};

}  // namespace hseam::app
