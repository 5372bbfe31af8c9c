#pragma once

#include <QWidget>

#include "app/document/desk.h"

class QVBoxLayout;

namespace hseam::app {

/// The scene's guides as numbers: typed, added and taken away.
class Guides : public QWidget {
  Q_OBJECT

 public:
  explicit Guides(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  void add(const scene::Guide& guide);
  QWidget* numberOf(std::size_t guide, const QString& name, double value, double& (*of)(scene::Guide&));
  Desk& desk_;
  QVBoxLayout* rows_;
  std::vector<scene::Guide> shown_;
};

}  // namespace hseam::app
