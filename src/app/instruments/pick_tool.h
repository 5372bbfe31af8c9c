#pragma once

#include <array>
#include <functional>
#include <optional>

#include "app/canvas/instrument.h"
#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::app {

/// Points at a place of the picture, to take a colour or a tone from there.
class PickTool : public Instrument {
 public:
  PickTool(std::function<void(const QPointF&)> picked, std::function<QString()> words)
      : picked_(std::move(picked)), words_(std::move(words)) {}
  void press(const Touch& touch) override {
    if (touch.button == Qt::LeftButton) picked_(touch.at);
  }
  QString doing() const override { return words_(); }

 private:
  std::function<void(const QPointF&)> picked_;
  std::function<QString()> words_;
};

/// What the scene shows about a place (the mean of 3 × 3 px), encoded; nothing where it shows nothing.
std::optional<std::array<double, 3>> colourAt(base::Executor& executor, const scene::Scene& scene, const QPointF& at);

}  // namespace hseam::app
