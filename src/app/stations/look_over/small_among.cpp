#include "app/stations/look_over/small_among.h"

#include <QPainter>

#include "app/canvas/view.h"
#include "app/theme/theme.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

constexpr int kColumns = 3, kRows = 2, kGap = 4;
constexpr int kLongSide = 180;  // px: two a dot

// At most so long; null where it cannot be rendered.
QImage small(const scene::Scene& scene) {
  int level = 0;
  while (std::max(scene.canvas.width, scene.canvas.height) >> level > 2 * kLongSide) ++level;
  base::InlineExecutor here;
  const auto pixels = render::Renderer().render(scene, base::Rect::of(render::canvasAt(scene, level)), level, here);
  return pixels.ok() ? toScreen(*pixels, 0, 0, {}).scaled(kLongSide, kLongSide, Qt::KeepAspectRatio, Qt::SmoothTransformation)
                     : QImage();
}

struct Made {
  QImage scene;
  std::vector<QImage> others;
};
Made madeOf(const scene::Scene& scene) {
  Made m;
  m.scene = small(scene);
  for (const auto& l : scene::allLayers(scene)) {
    const auto* p = l->picture();
    if (!p || p->byHand || m.others.size() + 1 >= std::size_t(kColumns) * kRows) continue;
    scene::Scene alone;
    alone.canvas = p->source.size();
    scene::Layer plain;
    plain.id = {1};
    scene::PictureContent content;
    content.source = p->source;
    plain.content = std::move(content);
    alone.layers.push_back(std::make_shared<const scene::Layer>(std::move(plain)));
    m.others.push_back(small(alone));
  }
  return m;
}

}  // namespace

SmallAmong::SmallAmong(Session& session, Lane& aside, QWidget* parent) : QWidget(parent), session_(session), aside_(aside) {
  setAccessibleName(tr("The scene small, among its pictures"));
  setToolTip(
      tr("The scene as small as in an overview, among the pictures that it is made of: does it still read at a glance, does one "
         "part "
         "of it jump out?"));
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void SmallAmong::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  ask();
}

void SmallAmong::refresh() {
  if (isVisible()) ask();
}

void SmallAmong::ask() {
  const scene::Scene& now = session_.scene();
  if (now.canvas == of_.canvas && now.layers == of_.layers) return;
  of_ = now;
  aside_.ask<Made>(
      QStringLiteral("small"), [now] { return madeOf(now); },
      [this](const Made& m) {
        scene_ = m.scene;
        others_ = m.others;
        update();
      });
}

void SmallAmong::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const double w = (width() - kGap * (kColumns - 1.0)) / kColumns, h = (height() - kGap * (kRows - 1.0)) / kRows;
  // The scene in the middle of the upper row, the others about it.
  constexpr int kOwn = 1;
  std::size_t next = 0;
  for (int i = 0; i < kColumns * kRows; ++i) {
    const QRectF cell((i % kColumns) * (w + kGap), (i / kColumns) * (h + kGap), w, h);
    p.fillRect(cell, theme::colours().sunk);
    const QImage image = i == kOwn ? scene_ : (next < others_.size() ? others_[next++] : QImage());
    if (image.isNull()) continue;
    const QSizeF size = QSizeF(image.size()).scaled(cell.size(), Qt::KeepAspectRatio);
    p.drawImage(QRectF(cell.center() - QPointF(size.width() / 2, size.height() / 2), size), image);
  }
}

}  // namespace hseam::app
