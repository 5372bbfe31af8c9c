#pragma once
// The picture in the middle: shows the scene at any zoom, passes the pointer to the instrument in hand.

#include <QWidget>
#include <functional>
#include <optional>
#include <vector>

#include "app/canvas/instrument.h"
#include "app/canvas/screen_tiles.h"

namespace hseam::app {

class Canvas : public QWidget {
  Q_OBJECT

 public:
  explicit Canvas(QWidget* parent = nullptr);

  void show(const scene::Scene& scene, const View& view);
  /// What is seen on the left of the curtain; nothing = no curtain.
  void setBefore(const std::optional<scene::Scene>& scene);
  void setInstrument(Instrument* instrument);  // not owned; null = only looking
  /// Drawn over the picture below the instrument: selections, bands. May be empty.
  void setOverlay(std::function<void(QPainter&, const QTransform& toWidget, const QRect& widget)> overlay);
  /// The stitched outline and tag of the active layer, in px of the shown scene.
  void setActiveOutline(const QPolygonF& outline, const QString& name);
  /// The pictures go through the monitor's profile; null: as they are.
  void setDisplay(const std::shared_ptr<const image::DisplayTransform>& display);
  /// Looks at the same place, as large, as another canvas does.
  void follow(const Canvas& other);
  void setMirrored(bool mirrored);
  /// Rulers along the top and the left, in px of the scene; guides are drawn and dragged while they are on.
  void setRulers(bool on);
  bool mirrored() const { return mirrored_; }

  void zoomToFit();
  void zoomTo(double zoom, QPointF widgetPoint);
  /// This place of the scene in the middle, at this zoom or closer.
  void lookAt(QPointF scenePoint, double zoom);
  /// The level of detail that is shown.
  int level() const;
  double zoom() const { return zoom_; }
  QTransform toWidget() const;
  /// Numbers of the scenes shown so far, and the last one of which everything in view is there.
  std::uint64_t showings() const { return tiles_.showings(); }
  std::uint64_t shownThrough() const { return tiles_.shownThrough(); }
  bool settled() const { return tiles_.settled() && (!curtain_ || before_.settled()); }
  const scene::Scene& shownScene() const { return tiles_.scene(); }
  /// The pointer in px of the shown scene.
  QPointF pointer() const { return pointer_; }

 signals:
  void viewMoved();  // zoomed or panned
  /// A guide was dragged out of a ruler, to another place, or back into a ruler (all of them as they are now).
  void guidesDragged(const std::vector<hseam::scene::Guide>& guides);
  void zoomChanged();
  void pointerMoved(QPointF scenePoint);
  void filesDropped(const QStringList& paths);
  void failed(const QString& sentence);
  void painted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void tabletEvent(QTabletEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void wantTiles();
  void drawTiles(QPainter& painter, const ScreenTiles& tiles, const QRectF& clip) const;
  void drawActiveOutline(QPainter& painter) const;
  void drawRing(QPainter& painter) const;
  void updateTile(int level, QPoint at);
  Touch touchAt(QPointF widgetPoint, Qt::MouseButton button, Qt::KeyboardModifiers modifiers, double pressure) const;
  QRect ringRect() const;
  void movePointer(QPointF widgetPoint);
  void drawGuides(QPainter& painter) const;
  void drawRulers(QPainter& painter) const;
  bool pressGuide(QPointF p);
  void moveGuide(QPointF p, bool done);

  ScreenTiles tiles_, before_;
  bool curtain_ = false;
  double curtainShare_ = 0.5;
  bool draggingCurtain_ = false;
  Instrument* instrument_ = nullptr;
  std::function<void(QPainter&, const QTransform&, const QRect&)> overlay_;
  QPolygonF outline_;
  QString outlineName_;
  double zoom_ = 1;
  QPointF centre_;  // px of the shown scene in the middle of the widget
  bool fitting_ = true;
  bool mirrored_ = false;
  bool spaceHeld_ = false;
  bool panning_ = false;
  QPointF panFrom_;
  Qt::MouseButton held_ = Qt::NoButton;
  QPointF pointer_;
  bool pointerInside_ = false;
  bool rulers_ = false;
  std::optional<std::size_t> guide_;  // of guides_, while it is dragged
  std::vector<scene::Guide> guides_;
};

}  // namespace hseam::app
