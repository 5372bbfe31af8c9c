#pragma once

#include "app/stations/page.h"

class QVBoxLayout;

namespace hseam::app {

/// The scene's guides as numbers: typed, added and taken away.
class Guides : public Page {
  Q_OBJECT

 public:
  explicit Guides(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  void add(const scene::Guide& guide);
  QWidget* numberOf(std::size_t guide, const QString& name, double value, double& (*of)(scene::Guide&));
  QVBoxLayout* rows_;
  std::vector<scene::Guide> shown_;
};

}  // namespace hseam::app
