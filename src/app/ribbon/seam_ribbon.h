#pragma once

#include <QImage>
#include <QWidget>
#include <memory>

#include "app/canvas/instrument.h"
#include "app/document/lane.h"
#include "app/document/session.h"
#include "core/matte/edge_plan.h"

namespace hseam::app {

/// The outline of the active cut, unrolled: along it from left to right, a px of arc a column, the outside on top; below, one
/// reading at a time with its scale and tolerance, and the kind of each stretch. Over the chosen ground or over the scene. At the
/// left the whole outline, the shown part bold. Hovering marks the place on the canvas, a click goes there at 1:1; dragging or
/// the wheel moves along.
class SeamRibbon : public QWidget {
  Q_OBJECT

 public:
  explicit SeamRibbon(Session& session, Lane& aside, QWidget* parent = nullptr);
  /// Looks at the active layer of the shown scene; ground: sRGB-encoded, behind the cut.
  void look(const std::array<double, 3>& ground);
  /// Place under the pointer, px of the layer; nothing if the pointer is elsewhere.
  std::optional<QPointF> marked() const;
  int places() const { return outline_ ? int(outline_->places.size()) : 0; }
  bool idle() const { return !awaited_; }
  /// The finished scene behind and over the cut, or the cut alone on its ground.
  void setOverScene(bool on);
  /// Shows a mark along its places.
  void setMark(const std::optional<matte::MarkedStretch>& mark);
  /// Whether dragging along the kinds marks a stretch.
  void setMarking(bool on);
  /// Something that was found along the edge: its name, and where, px of the layer.
  struct Found {
    QString name;
    QRectF where;
    friend bool operator==(const Found&, const Found&) = default;
  };
  /// Shown as hatching under the strip with their names.
  void setFindings(std::vector<Found> found);
  /// The names of what was found at a place of the outline.
  QStringList foundAt(int place) const;
  /// In hand, it paints where the strip is dragged over: the left and right button as on the canvas. Null: dragging moves along.
  void setBrush(Instrument* brush);

 signals:
  void markMoved();
  void goTo(QPointF layerPx);
  void stretchMarked(const hseam::matte::MarkedStretch& mark);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  static constexpr int kHeight = 140, kMap = 104, kReach = 24, kStripTop = 8, kTraceHeight = 54;  // px
  struct Shown {
    int first = 0, whole = 0;
    QImage strip;
    std::vector<matte::EdgeReading> readings;
    std::vector<float> toneSteps;
  };
  struct Laid {
    std::shared_ptr<const matte::Unrolled> outline;
    Shown shown;
  };
  enum class Trace { softness, halo, toneStep };
  void nextTrace(int by);
  QRect groundWordArea() const;
  QRect stripArea() const;
  QRect traceArea() const;
  int columns() const;
  void moveTo(int first);
  void ask();
  void take(const Laid& laid);
  void paintMap(QPainter& painter) const;
  void paintTrace(QPainter& painter) const;
  void paintMark(QPainter& painter) const;
  void paintFindings(QPainter& painter) const;
  QString describePlace(int at) const;
  /// The kinds' line, where stretches are marked.
  QRect kindArea() const;
  std::optional<int> placeAt(int x) const;
  /// The layer's px under a place of the strip.
  std::optional<QPointF> inLayer(const QPoint& at) const;
  void endMark(int from, int to);

  Session& session_;
  Lane& aside_;
  image::TiledImage mask_, colours_, source_;
  std::array<double, 3> ground_{0.5, 0.5, 0.5};
  std::shared_ptr<const matte::Unrolled> outline_;
  std::uint64_t outlineOf_ = 0;  // the mask's stamp
  Shown shown_;
  int first_ = 0;
  Trace trace_ = Trace::softness;
  bool overScene_ = false;
  scene::Scene scene_;        // what is shown over the scene
  std::optional<int> hover_;  // a place
  std::optional<QPoint> press_;
  int pressFirst_ = 0;
  bool dragged_ = false, awaited_ = false;
  bool marking_ = false;
  std::optional<int> markFrom_;  // a place
  std::optional<matte::MarkedStretch> mark_;
  std::vector<Found> found_;
  Instrument* brush_ = nullptr;
  Qt::MouseButton paintsWith_ = Qt::NoButton;  // what a drag in the strip would paint with
  bool painting_ = false;
};

}  // namespace hseam::app
