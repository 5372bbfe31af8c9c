#pragma once

#include <QPainterPath>
#include <functional>
#include <optional>
#include <set>

#include "app/canvas/instrument.h"
#include "core/path/edit.h"
#include "core/path/fit.h"

namespace hseam::app {

/// Draws and edits a path on the canvas. On empty ground a click sets a corner, a drag a smooth point whose handle follows
/// the hand (Shift held meanwhile: the point itself slides). A click on the first point closes. Points, handles and the curve
/// itself are dragged where they are seen; a double click puts a point on the curve, or turns a corner smooth and back.
class PathTool : public Instrument {
 public:
  struct Ports {
    std::function<path::Path()> path;                      // as kept
    std::function<void(const path::Path&)> draft;          // while dragging
    std::function<void(const path::Path&, QString)> keep;  // finished, with a word for the step
    std::function<base::Affine()> toShown;                 // px of the path → px of the shown scene
    std::function<path::Joins()> joins;                    // of an outline that begins
    std::function<QString()> words;
  };
  explicit PathTool(Ports ports) : ports_(std::move(ports)) {}
  bool throughPoints = false;  // new points lie on the curve, which makes its handles by itself

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void hover(const QPointF& at) override;
  bool doubleClick(const Touch& touch) override;
  void cancel() override;
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return ports_.words(); }

  /// What the buttons do, to the points in hand (the last one touched if there are none).
  void removeInHand();
  void turnInHand(bool smooth);
  /// The outline that is being drawn ends open; the next click begins another.
  void leaveOpen() { drawing_ = -1; }
  int pointsInHand() const { return int(inHand_.size()); }

 private:
  struct Spot {
    int outline = -1, node = -1;
    friend auto operator<=>(const Spot&, const Spot&) = default;
  };
  enum class Grip { none, node, in, out, curve, placing };
  base::Point inPath(const QPointF& shown) const;
  void find(const base::Point& at);
  void place(const base::Point& at);
  std::optional<Spot> nodeAt(const base::Point& at) const;
  path::Path now() const { return edited_ ? *edited_ : ports_.path(); }

  Ports ports_;
  std::optional<path::Path> edited_;  // during a gesture
  Grip grip_ = Grip::none;
  Spot spot_;         // the node, or the segment's first
  double t_ = 0;      // on the segment
  base::Point from_;  // where the gesture began, px of the path
  std::set<Spot> inHand_;
  int drawing_ = -1;  // the open outline that goes on
  std::optional<base::Point> hover_;
  double reach_ = 8;  // px of the path within which something is touched
  bool slidOn_ = false;
};

}  // namespace hseam::app
