#include "app/canvas/label_overlay.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace hseam::app {
namespace {

using Style = LabelOverlay::Style;

// The states that a pattern tells apart: 0, 1, 2; of frames and seams each value.
int stateOf(std::uint8_t v, Style style) {
  if (style == Style::frames || style == Style::seams) return v;
  if (style == Style::outline) return v >= 128 ? 1 : 0;
  return v < 86 ? 0 : (v > 170 ? 2 : 1);
}

// Digits of 3 × 5 dots, a row of bits each.
constexpr std::array<std::array<std::uint8_t, 5>, 10> kDigits = {{{7, 5, 5, 5, 7},
                                                                  {2, 6, 2, 2, 7},
                                                                  {7, 1, 7, 4, 7},
                                                                  {7, 1, 7, 1, 7},
                                                                  {5, 5, 7, 1, 1},
                                                                  {7, 4, 7, 1, 7},
                                                                  {7, 4, 7, 5, 7},
                                                                  {7, 1, 1, 2, 2},
                                                                  {7, 5, 7, 5, 7},
                                                                  {7, 5, 7, 1, 7}}};

// The number of a frame, written again and again, two px a dot.
QRgb numberAt(int x, int y, int number) {
  constexpr int kDot = 2, kWide = 4 * kDot, kHigh = 8 * kDot;
  const int digits = number >= 100 ? 3 : (number >= 10 ? 2 : 1), cell = (digits + 1) * kWide;
  const int row = y % kHigh / kDot - 1, column = (x + (y / kHigh % 2) * cell / 2) % cell;
  const int place = column / kWide, dot = column % kWide / kDot;
  if (row < 0 || row >= 5 || place >= digits || dot >= 3) return qRgba(0, 0, 0, 120);
  int digit = number;
  for (int i = place; i + 1 < digits; ++i) digit /= 10;
  return kDigits[std::size_t(digit % 10)][std::size_t(row)] >> (2 - dot) & 1 ? qRgba(255, 255, 255, 255) : qRgba(0, 0, 0, 120);
}

QRgb patternAt(int x, int y, int state, Style style) {
  if (style == Style::band) {
    if (state == 1) {
      const int stripe = (x + y) & 7;
      if (stripe < 2) return qRgba(255, 255, 255, 210);
      return stripe < 4 ? qRgba(0, 0, 0, 150) : 0;
    }
    if (state == 0 && (x % 8) < 2 && (y % 8) < 2) return ((x / 8 + y / 8) & 1) ? qRgba(0, 0, 0, 150) : qRgba(230, 230, 230, 150);
    return 0;
  }
  if (style == Style::frames) return state > 0 ? numberAt(x, y, state) : 0;
  if (style == Style::changes && state != 1) {
    // Lost falls to the right in black, gained rises to the right in white.
    const int stripe = (state == 0 ? x - y + 4096 : x + y) & 7;
    if (stripe < 3) return state == 0 ? qRgba(0, 0, 0, 255) : qRgba(255, 255, 255, 255);
    return state == 0 ? qRgba(255, 255, 255, 90) : qRgba(0, 0, 0, 90);
  }
  if (style == Style::hints && state != 1) {
    // Rows of plus signs on the subject, of minus signs on the background.
    const int cx = x % 12, cy = y % 12;
    const bool across = cy >= 5 && cy <= 6 && cx >= 2 && cx <= 9, down = cx >= 5 && cx <= 6 && cy >= 2 && cy <= 9;
    if (across || (state == 2 && down)) return qRgba(255, 255, 255, 255);
    return qRgba(0, 0, 0, 120);
  }
  return 0;
}

}  // namespace

void LabelOverlay::paint(QPainter& painter, const image::TiledImage& labels, const QTransform& toWidget, const QRect& widget,
                         Style style) {
  if (labels.isNull()) return;
  if (labels.stamp() != stamp_ || toWidget != transform_ || widget != widget_ || style != style_) {
    stamp_ = labels.stamp(), transform_ = toWidget, widget_ = widget, style_ = style;
    drawn_ = QImage();
    const QTransform back = toWidget.inverted();
    const double perPixel = std::sqrt(std::abs(back.determinant()));
    const int level = std::clamp(int(std::floor(std::log2(std::max(1.0, perPixel)))), 0, labels.levelCount() - 1);
    const double down = 1.0 / (1 << level);
    const QRectF seen = back.mapRect(QRectF(widget));
    base::Rect area{int(std::floor(seen.left() * down)) - 1, int(std::floor(seen.top() * down)) - 1, 0, 0};
    area.width = int(std::ceil(seen.right() * down)) + 2 - area.x;
    area.height = int(std::ceil(seen.bottom() * down)) + 2 - area.y;
    const base::Size size = labels.level(level).size;
    area = area.intersected(base::Rect::of(size));
    if (area.empty()) return;
    const auto read = image::read8(labels, level, area);
    if (!read.ok()) return;
    QImage image(widget.size(), QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    std::vector<int> above(std::size_t(widget.width()), -1);
    for (int y = 0; y < widget.height(); ++y) {
      auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
      int left = -1;
      for (int x = 0; x < widget.width(); ++x) {
        const QPointF p = back.map(QPointF(x + 0.5, y + 0.5)) * down;
        const int px = int(std::floor(p.x())), py = int(std::floor(p.y()));
        const int state = area.contains(px, py) ? stateOf(*read->at(px - area.x, py - area.y), style) : -1;
        int& over = above[std::size_t(x)];
        const bool border = style != Style::hints && style != Style::changes && style != Style::frames && state >= 0 &&
                            ((left >= 0 && left != state) || (over >= 0 && over != state));
        if (border) {
          line[x] = ((x + y) / 4) % 2 ? qRgba(255, 255, 255, 255) : qRgba(0, 0, 0, 255);
        } else if (state >= 0) {
          line[x] = qPremultiply(patternAt(x, y, state, style));
        }
        left = state;
        over = state;
      }
    }
    drawn_ = std::move(image);
  }
  if (!drawn_.isNull()) painter.drawImage(widget.topLeft(), drawn_);
}

}  // namespace hseam::app
