#pragma once

#include <functional>

#include "app/canvas/instrument.h"
#include "app/document/messages.h"
#include "app/document/session.h"

namespace hseam::app {

/// Shows a shadow that is in the picture: dragged from the foot of something upright to the shadow's tip; then its top, and the
/// other two, are dragged to their places.
class PlaceLightTool : public Instrument {
 public:
  /// shown: the light that a shadow tells, with what is measured of it; asked once, when the button goes up.
  PlaceLightTool(Session& session, Messages& messages, std::function<scene::PlaceLight(const scene::SeenShadow&)> shown)
      : session_(session), messages_(messages), shown_(std::move(shown)) {}
  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  /// Moves the tip.
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  enum class Grip { none, fresh, foot, top, tip };
  /// As it is drawn now; nothing: none is.
  std::optional<scene::SeenShadow> seen() const;
  /// The kept one with the handle in hand at `to`; nothing: no light can be told from that.
  std::optional<scene::SeenShadow> dragged(Grip grip, base::Point to) const;
  void keep(const scene::SeenShadow& seen);

  Session& session_;
  Messages& messages_;
  std::function<scene::PlaceLight(const scene::SeenShadow&)> shown_;
  Grip grip_ = Grip::none;
  base::Point from_;  // where the button went down
  double widgetScale_ = 1;
};

}  // namespace hseam::app
