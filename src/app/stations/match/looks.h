#pragma once

#include "app/stations/page.h"

class QCheckBox;
class QComboBox;
class QLineEdit;
class QPushButton;

namespace hseam::app {

/// The page of named looks: the adjustments on a layer, kept beside all projects and used on other pictures.
class Looks : public Page {
  Q_OBJECT

 public:
  explicit Looks(Desk& desk);
  void refresh() override;
  bool onlyWhileOpen() const override { return true; }
  /// Where they are kept, one file each.
  static QString folder();

 private:
  void keep();
  void use();
  void forget();
  QString fileOf(const QString& name) const;

  QLineEdit* name_;
  QComboBox* list_;
  QCheckBox* confined_;
  QPushButton *keep_, *use_, *forget_;
};

}  // namespace hseam::app
