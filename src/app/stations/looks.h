#pragma once

#include <QWidget>

#include "app/document/desk.h"

class QCheckBox;
class QComboBox;
class QLineEdit;
class QPushButton;

namespace hseam::app {

/// The pleat of named looks: the adjustments on a layer, kept beside all projects and used on other pictures.
class Looks : public QWidget {
  Q_OBJECT

 public:
  explicit Looks(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  /// Where they are kept, one file each.
  static QString folder();

 private:
  void keep();
  void use();
  void forget();
  QString fileOf(const QString& name) const;

  Desk& desk_;
  QLineEdit* name_;
  QComboBox* list_;
  QCheckBox* confined_;
  QPushButton *keep_, *use_, *forget_;
};

}  // namespace hseam::app
