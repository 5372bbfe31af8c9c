#include "app/widgets/tone_patch.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr int kSide = 150, kMargin = 16;
constexpr double kStep = 0.01;
constexpr int kOuter[] = {0, 3, 4, 7};  // the sides of the patch

}  // namespace

TonePatch::TonePatch(QWidget* parent) : QWidget(parent) {
  setFixedHeight(kSide + 2 * kMargin);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Shows by brightness"));
  setToolTip(
      tr("Across: the layer's own tones, dark to light. Upwards: the tones below it. The layer shows within the patch. Drag its "
         "sides; drag the dotted lines to soften them; double click: everywhere. Keys: Space, arrows, Shift+arrows."));
}

void TonePatch::setShows(const scene::ToneRange& shows) {
  if (dragged_ >= 0) return;
  shows_ = shows;
  update();
}

QRectF TonePatch::square() const {
  return {(width() - kSide) / 2.0, double(kMargin), double(kSide), double(kSide)};
}

double TonePatch::at(int line) const {
  return line < 4 ? shows_.own[std::size_t(line)] : shows_.below[std::size_t(line - 4)];
}

QPointF TonePatch::toneAt(const QPointF& p) const {
  const QRectF s = square();
  return {std::clamp((p.x() - s.left()) / s.width(), 0.0, 1.0), std::clamp((s.bottom() - p.y()) / s.height(), 0.0, 1.0)};
}

// The four tones stay in order: what is pushed, pushes.
void TonePatch::move(int line, double tone) {
  auto& tones = line < 4 ? shows_.own : shows_.below;
  const auto i = std::size_t(line % 4);
  tone = std::clamp(tone, 0.0, 1.0);
  // A side takes its softness along.
  if (i == 0) tones[1] = std::clamp(tones[1] + tone - tones[0], 0.0, 1.0);
  if (i == 3) tones[2] = std::clamp(tones[2] + tone - tones[3], 0.0, 1.0);
  tones[i] = tone;
  for (std::size_t k = i + 1; k < 4; ++k) tones[k] = std::max(tones[k], tones[k - 1]);
  for (std::size_t k = i; k-- > 0;) tones[k] = std::min(tones[k], tones[k + 1]);
}

int TonePatch::nearest(const QPointF& widget) const {
  const QPointF t = toneAt(widget);
  int best = 0;
  double least = 1e9;
  for (int line = 0; line < 8; ++line) {
    // Where two lie on each other, the side wins, unless it stands at the end of the tones and the pointer is inside.
    const bool outer = line % 4 == 0 || line % 4 == 3;
    const double d = std::abs((line < 4 ? t.x() : t.y()) - at(line)) - (outer ? 0.004 : 0);
    if (d < least) least = d, best = line;
  }
  return best;
}

void TonePatch::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const auto& c = theme::colours();
  const QRectF s = square();
  QImage patch(kSide, kSide, QImage::Format_RGB32);
  for (int y = 0; y < kSide; ++y) {
    const double below = 1 - (y + 0.5) / kSide;
    for (int x = 0; x < kSide; ++x) {
      const double share = scene::shareAt(shows_.own, (x + 0.5) / kSide) * scene::shareAt(shows_.below, below);
      const auto mix = [&](int from, int to) { return int(from + share * (to - from)); };
      patch.setPixel(x, y, qRgb(mix(60, 190), mix(60, 190), mix(60, 190)));
    }
  }
  p.drawImage(s.topLeft(), patch);
  const auto place = [&](int line) {
    const double t = at(line);
    return line < 4 ? QLineF(s.left() + t * s.width(), s.top(), s.left() + t * s.width(), s.bottom())
                    : QLineF(s.left(), s.bottom() - t * s.height(), s.right(), s.bottom() - t * s.height());
  };
  for (int line = 0; line < 8; ++line) {
    const bool outer = line % 4 == 0 || line % 4 == 3;
    p.setPen(QPen(c.blue, line == chosen_ && hasFocus() ? 3 : 1.5, outer ? Qt::SolidLine : Qt::DotLine));
    p.drawLine(place(line));
  }
  p.setPen(c.quiet);
  p.setFont(theme::font(theme::Size::small));
  p.drawText(QRectF(s.left(), s.bottom() + 1, s.width(), kMargin), Qt::AlignCenter, tr("its own tones →"));
  p.save();
  p.translate(s.left() - kMargin, s.bottom());
  p.rotate(-90);
  p.drawText(QRectF(0, 0, s.height(), kMargin), Qt::AlignCenter, tr("tones below →"));
  p.restore();
}

void TonePatch::mousePressEvent(QMouseEvent* e) {
  dragged_ = chosen_ = nearest(e->position());
  mouseMoveEvent(e);
}

void TonePatch::mouseMoveEvent(QMouseEvent* e) {
  if (dragged_ < 0) return;
  const QPointF t = toneAt(e->position());
  move(dragged_, dragged_ < 4 ? t.x() : t.y());
  update();
  emit changing(shows_);
}

void TonePatch::mouseReleaseEvent(QMouseEvent*) {
  if (dragged_ < 0) return;
  dragged_ = -1;
  emit changed(shows_);
}

void TonePatch::mouseDoubleClickEvent(QMouseEvent*) {
  shows_ = {};
  dragged_ = -1;
  update();
  emit changed(shows_);
}

void TonePatch::keyPressEvent(QKeyEvent* e) {
  const int key = e->key();
  if (key == Qt::Key_Space) {
    const auto* now = std::find(std::begin(kOuter), std::end(kOuter), chosen_);
    chosen_ = now == std::end(kOuter) || now + 1 == std::end(kOuter) ? kOuter[0] : now[1];
    update();
    return;
  }
  const double by = key == Qt::Key_Right || key == Qt::Key_Up ? kStep : (key == Qt::Key_Left || key == Qt::Key_Down ? -kStep : 0);
  if (by == 0) return QWidget::keyPressEvent(e);
  int line = chosen_;
  if (e->modifiers() & Qt::ShiftModifier) line = line % 4 == 0 ? line + 1 : (line % 4 == 3 ? line - 1 : line);
  move(line, at(line) + by);
  update();
  emit changed(shows_);
}

}  // namespace hseam::app
