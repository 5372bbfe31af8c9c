#pragma once

#include <QWidget>

#include "app/document/desk.h"

class QComboBox;
class QPushButton;

namespace hseam::app {

/// How strictly the project is judged, and back to looking for everything.
class JudgingRows : public QWidget {
  Q_OBJECT

 public:
  explicit JudgingRows(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  Desk& desk_;
  QComboBox* sets_;
  QPushButton* again_;
};

}  // namespace hseam::app
