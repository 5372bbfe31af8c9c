#include "app/stations/look_over/heat_view.h"

#include <cmath>

#include "core/findings/report.h"

namespace hseam::app {
namespace {

constexpr int kStepPx = 4;
constexpr float kMostHeat = 3;  // times its tolerance: as hot as it is drawn

QPen penFor(float heat) {
  const double t = std::clamp(double(heat) / double(kMostHeat), 0.0, 1.0);
  const QColor cold(70, 130, 200), hot(255, 170, 30);
  const auto between = [t](int a, int b) { return int(std::lround(a + t * (b - a))); };
  return QPen(QColor(between(cold.red(), hot.red()), between(cold.green(), hot.green()), between(cold.blue(), hot.blue())),
              1.5 + 6 * t, Qt::SolidLine, Qt::FlatCap);
}

}  // namespace

void HeatView::setOn(bool on) {
  on_ = on;
  refresh();
  emit changed();
}

void HeatView::refresh() {
  const scene::Scene& now = session_.scene();
  const bool same = known_ && of_.layers == now.layers && of_.judging == now.judging;
  if (!on_ || same) return;
  of_ = now;
  known_ = true;
  using Seams = std::vector<std::vector<findings::HeatPlace>>;
  aside_.ask<Seams>(
      QStringLiteral("seam heat"),
      [now] {
        Seams all;
        for (const scene::LayerId id : findings::judgedLayers(now)) {
          auto one = findings::seamHeat(now, id, kStepPx, {});
          if (one.ok() && !one->empty()) all.push_back(std::move(one).value());
        }
        return all;
      },
      [this](const Seams& all) {
        seams_ = all;
        emit changed();
      });
}

void HeatView::paint(QPainter& painter, const QTransform& toWidget) const {
  if (!on_) return;
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  for (const auto& seam : seams_) {
    for (std::size_t i = 1; i < seam.size(); ++i) {
      if (seam[i].outline != seam[i - 1].outline) continue;
      painter.setPen(penFor(std::max(seam[i].heat, seam[i - 1].heat)));
      painter.drawLine(toWidget.map(QPointF(seam[i - 1].at.x, seam[i - 1].at.y)),
                       toWidget.map(QPointF(seam[i].at.x, seam[i].at.y)));
    }
  }
  painter.restore();
}

}  // namespace hseam::app
