#pragma once

#include "app/canvas/instrument.h"
#include "app/document/messages.h"
#include "app/document/session.h"

namespace hseam::app {

/// The horizon as a line on the picture: dragged up and down in its middle, tilted at its ends; or found from two pairs of lines
/// that are level and parallel in the scene.
class FloorTool : public Instrument {
 public:
  FloorTool(Session& session, Messages& messages) : session_(session), messages_(messages) {}
  /// The next four drags are lines; two by two they meet on the horizon.
  void beginLines();
  bool drawing() const { return drawing_; }
  /// Where the picture's own lines tell it: shown, and dragged on, until somebody has drawn it.
  void setGuess(const std::optional<scene::Floor>& guess) { guess_ = guess; }
  /// As it is drawn, else as it is guessed, else where it usually lies.
  scene::Floor now() const;
  /// Where the pairs of lines that were drawn last meet: vanishing points, scene px.
  const std::vector<base::Point>& meetings() const { return meetings_; }
  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  enum class Grip { none, middle, left, right };
  double yAt(const scene::Floor& floor, double x) const;
  void change(const scene::Floor& floor, bool keep);
  void finishLines();

  Session& session_;
  Messages& messages_;
  Grip grip_ = Grip::none;
  bool drawing_ = false;
  std::vector<std::pair<QPointF, QPointF>> lines_;
  std::vector<base::Point> meetings_;
  scene::Floor start_;
  std::optional<scene::Floor> guess_;
  QPointF from_;
};

/// Where the first two lines meet, and the next two, as far as they do.
std::vector<base::Point> meetingsOf(const std::vector<std::pair<QPointF, QPointF>>& lines);
/// Through where each pair of lines meets; a pair that does not meet lies level, so that the horizon passes the other's point as
/// they run. canvas: scene px. Nothing: neither pair meets.
std::optional<scene::Floor> horizonFrom(const scene::Floor& before, base::Size canvas,
                                        const std::vector<std::pair<QPointF, QPointF>>& lines);

}  // namespace hseam::app
