#include "app/widgets/level_lines.h"

#include <QLinearGradient>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "core/image/transfer.h"

namespace hseam::app {
namespace {

constexpr double kLeastApart = 1.0 / 255;  // of encoded values: a white above its black
constexpr double kMiddleLow = 0.1, kMiddleHigh = 10;

// L* of an encoded grey, and back.
double lightnessOfGrey(double v) {
  return 100 * scene::lightnessOfLuminance(image::linearFromEncoded(v));
}
double greyOfLightness(double l) {
  return image::encodedFromLinear(scene::luminanceOfLightness(std::clamp(l, 0.0, 100.0) / 100));
}

}  // namespace

LevelLines::LevelLines(QWidget* parent) : TackEditor(206, parent) {
  setAccessibleName(tr("Darkest, middle and lightest tone"));
  setToolTip(
      tr("Drag the outer lines to the tones that become the darkest and the lightest, the short one to what becomes the middle. "
         "Below: the darkest and the lightest that come out. Space chooses the next, arrows move it, a double click sets it "
         "back. Filled: tones as they are now."));
  tellValue();
}

void LevelLines::setLevels(const scene::Levels& levels) {
  if (dragging() || levels == levels_) return;
  levels_ = levels;
  tellValue();
  update();
}

void LevelLines::setHistograms(const Histogram& now, const Histogram& below) {
  now_ = now, below_ = below;
  update();
}

QRectF LevelLines::field() const {
  return QRectF(rect()).adjusted(10, 8, -10, -58);
}
QRectF LevelLines::strip() const {
  return {field().left(), field().bottom() + 20, field().width(), 14};
}

double LevelLines::lightnessOf(Line line) const {
  switch (line) {
    case kBlack:
      return lightnessOfGrey(levels_.black);
    case kMiddle:
      return lightnessOfGrey(levels_.black + (levels_.white - levels_.black) * std::pow(0.5, levels_.middle));
    case kWhite:
      return lightnessOfGrey(levels_.white);
    case kDarkest:
      return lightnessOfGrey(levels_.outBlack);
    default:
      return lightnessOfGrey(levels_.outWhite);
  }
}

void LevelLines::put(Line line, double lightness) {
  const double v = greyOfLightness(lightness);
  switch (line) {
    case kBlack:
      levels_.black = std::clamp(v, 0.0, levels_.white - kLeastApart);
      break;
    case kMiddle: {
      const double share = std::clamp((v - levels_.black) / (levels_.white - levels_.black), 1e-4, 0.9999);
      levels_.middle = std::clamp(std::log(share) / std::log(0.5), kMiddleLow, kMiddleHigh);
      break;
    }
    case kWhite:
      levels_.white = std::clamp(v, levels_.black + kLeastApart, 1.0);
      break;
    case kDarkest:
      levels_.outBlack = v;
      break;
    default:
      levels_.outWhite = v;
  }
  tellValue();
}

void LevelLines::setBack() {
  const scene::Levels fresh;
  switch (chosen_) {
    case kBlack:
      levels_.black = fresh.black;
      break;
    case kMiddle:
      levels_.middle = fresh.middle;
      break;
    case kWhite:
      levels_.white = fresh.white;
      break;
    case kDarkest:
      levels_.outBlack = fresh.outBlack;
      break;
    default:
      levels_.outWhite = fresh.outWhite;
  }
  tellValue();
  update();
}

void LevelLines::tellValue() {
  const QString names[kLines] = {tr("becomes the darkest"), tr("becomes the middle"), tr("becomes the lightest"),
                                 tr("darkest that comes out"), tr("lightest that comes out")};
  setAccessibleDescription(tr("%1: L* %2").arg(names[chosen_]).arg(lightnessOf(chosen_), 0, 'f', 0));
}

void LevelLines::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF f = field(), s = strip();
  paintTones(p, QRectF(rect()), f, now_, below_);
  QLinearGradient greys(s.left(), 0, s.right(), 0);
  for (int k = 0; k <= 10; ++k) {
    const int g = int(std::lround(255 * greyOfLightness(10 * k)));
    greys.setColorAt(k / 10.0, QColor(g, g, g));
  }
  p.fillRect(s, greys);
  const auto x = [&](Line line) { return f.left() + lightnessOf(line) / 100 * f.width(); };
  const auto pen = [&](Line line) {
    return QPen(line == chosen_ ? theme::colours().blue : theme::colours().text, line == chosen_ ? 2.5 : 1.5);
  };
  for (const Line line : {kBlack, kMiddle, kWhite}) {
    p.setPen(pen(line));
    p.drawLine(QPointF(x(line), line == kMiddle ? f.bottom() - 26 : f.top()), QPointF(x(line), f.bottom() + 8));
  }
  for (const Line line : {kDarkest, kLightest}) {
    p.setPen(pen(line));
    p.drawLine(QPointF(x(line), s.top() - 4), QPointF(x(line), s.bottom() + 4));
  }
  p.setPen(theme::colours().text);
  p.setFont(theme::font(theme::Size::small));
  p.drawText(QRectF(s.left(), s.bottom() + 5, s.width(), 18), Qt::AlignCenter, accessibleDescription());
  if (hasFocus()) paintFocus(p, QRectF(rect()));
}

bool LevelLines::take(QPointF at) {
  const bool below = at.y() > strip().top() - 5;
  double nearest = 1e9;
  for (const Line line : {kBlack, kMiddle, kWhite, kDarkest, kLightest}) {
    if (below != (line == kDarkest || line == kLightest)) continue;
    const double away = std::abs(field().left() + lightnessOf(line) / 100 * field().width() - at.x());
    if (away < nearest) nearest = away, chosen_ = line;
  }
  return true;
}

void LevelLines::moveTo(QPointF at) {
  put(chosen_, 100 * (at.x() - field().left()) / field().width());
}

void LevelLines::next() {
  chosen_ = Line((chosen_ + 1) % kLines);
  tellValue();
}

bool LevelLines::step(int x, int, bool far) {
  if (x != 0) put(chosen_, lightnessOf(chosen_) + x * (far ? 5 : 0.5));
  return x != 0;
}

void LevelLines::tell(bool finished) {
  if (finished) {
    emit changed(levels_);
  } else {
    emit changing(levels_);
  }
}

}  // namespace hseam::app
