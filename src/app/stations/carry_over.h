#pragma once

#include <QWidget>

#include "app/document/desk.h"

class QComboBox;
class QPushButton;

namespace hseam::app {

/// What one layer has, given to the active one: its mask, or the adjustments that are confined to it.
class CarryOver : public QWidget {
  Q_OBJECT

 public:
  explicit CarryOver(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  const scene::Layer* from() const;
  void carryMask();
  void carryAdjustments();
  Desk& desk_;
  QComboBox* from_;
  QPushButton *mask_, *adjustments_;
};

}  // namespace hseam::app
