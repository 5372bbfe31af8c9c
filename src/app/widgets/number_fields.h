#pragma once

#include <QWidget>
#include <vector>

#include "core/scene/adjustment_kinds.h"

class QButtonGroup;
class QComboBox;
class QVBoxLayout;

namespace hseam::app {

class HueRing;
class ValueField;

/// The fields of an adjustment of the table, made anew for each kind: those of the hues as tacks on a ring, several sections
/// behind one choice.
class NumberFields : public QWidget {
  Q_OBJECT

 public:
  explicit NumberFields(QWidget* parent = nullptr);
  void show(const scene::ParametricAdjustment& numbers);

 signals:
  void changing(const hseam::scene::ParametricAdjustment& numbers);
  void changed(const hseam::scene::ParametricAdjustment& numbers);

 private:
  void build(const scene::ParametricAdjustment& numbers);
  void showSection();
  void buildRing(QVBoxLayout* column);
  void showRing();
  QVBoxLayout* column_;
  QWidget* page_ = nullptr;
  QComboBox* section_ = nullptr;
  HueRing* ring_ = nullptr;
  QButtonGroup* amounts_ = nullptr;  // which amount the ring shows; null: there is one
  QStringList amountNames_;
  std::vector<int> onRing_;          // the fields of its tacks
  std::vector<ValueField*> fields_;  // null: on the ring
  scene::ParametricAdjustment shown_;
};

}  // namespace hseam::app
