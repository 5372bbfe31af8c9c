#pragma once

#include <memory>

#include "app/stations/hand_over/write_copy.h"
#include "core/deliver/weights.h"

class QListWidget;
class QPushButton;

namespace hseam::app {

class WeightView;

/// What JPEG or WebP weighs at several qualities and what each costs; the best quality below a weight.
class Weight : public Page {
  Q_OBJECT

 public:
  Weight(Desk& desk, WriteCopy& copy);
  void refresh() override;
  bool onlyWhileOpen() const override { return true; }
  QString words() const override;
  QWidget* middle() override;
  /// Writes the usual qualities to a temporary place and compares each with the picture.
  void weigh();

 private:
  void find();
  void choose(int trial);
  void tell();
  void show(const scene::Scene& scene, const deliver::ExportOptions& options, std::shared_ptr<const deliver::Encodable> picture,
            std::vector<deliver::Trial> trials, int nearest);
  /// Whether what was weighed is still what would be written.
  bool fresh() const;
  WriteCopy& copy_;
  WeightView* view_;
  QListWidget* list_;
  QSpinBox* most_;
  QLabel* told_;
  QPushButton *weigh_, *find_, *take_;
  struct Weighed {
    scene::Scene scene;
    deliver::ExportOptions options;
    std::shared_ptr<const deliver::Encodable> picture;
    std::vector<deliver::Trial> trials;
  };
  std::optional<Weighed> weighed_;
};

}  // namespace hseam::app
