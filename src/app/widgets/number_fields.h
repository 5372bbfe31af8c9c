#pragma once

#include <QWidget>
#include <vector>

#include "core/scene/adjustment_kinds.h"

class QComboBox;
class QVBoxLayout;

namespace hseam::app {

class ValueField;

/// The fields of an adjustment of the table, made anew for each kind; several sections stand behind one choice.
class NumberFields : public QWidget {
  Q_OBJECT

 public:
  explicit NumberFields(QWidget* parent = nullptr);
  void show(const scene::ByNumbers& numbers);

 signals:
  void changing(const hseam::scene::ByNumbers& numbers);
  void changed(const hseam::scene::ByNumbers& numbers);

 private:
  void build(const scene::ByNumbers& numbers);
  void showSection();
  QVBoxLayout* column_;
  QWidget* page_ = nullptr;
  QComboBox* section_ = nullptr;
  std::vector<ValueField*> fields_;
  scene::ByNumbers shown_{-1, {}};
};

}  // namespace hseam::app
