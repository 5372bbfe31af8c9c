// What is worked out a cell at a time against the same, place by place.

#include "core/render/shadow_ways.h"

#include "core/render/lights.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

scene::Scene scene_() {
  scene::Scene s;
  s.canvas = {900, 700};
  scene::Floor f;
  f.horizonY = 160;
  f.cameraHeightM = 1.5;
  f.viewAngleDeg = 46;
  f.tiltDeg = 2.5;
  s.floor = f;
  scene::Layer caster = test::pictureLayer(2, test::colours(160, 300, 4), 300, 250);
  caster.mask.coverage = test::disc(160, 300, 6);
  auto& at = std::get<scene::PictureContent>(caster.content).placement;
  at.rotationDeg = 4;
  at.scale = 0.9;
  s.layers = {ref(caster)};
  return s;
}

scene::CastShadow shadowOf(double sizeDeg, double wallY) {
  scene::CastShadow s;
  s.light = {wallY > 0 ? -40.0 : -140.0, 36, sizeDeg};
  s.foot = {80, 295};
  s.fadeHeights = 2;
  s.wallY = wallY;
  return s;
}

render::ShapeOf noShape() {
  return [](const scene::Layer&, int, const base::Rect&) -> base::Result<image::Raster<float>> { return base::noMemory(); };
}

}  // namespace

class ShadowWaysTest : public QObject {
  Q_OBJECT
 private slots:
  void rowsFollowTheirPlaces_data() {
    QTest::addColumn<double>("wallY");
    QTest::newRow("floor") << 0.0;
    QTest::newRow("wall") << 420.0;
  }
  void rowsFollowTheirPlaces() {
    QFETCH(double, wallY);
    const scene::Scene s = scene_();
    const auto cast = shadowOf(2, wallY);
    render::Caster caster(s, *s.layers[0], noShape());
    const auto ways = render::ShadowWays::of(s, cast, caster, 1);
    QVERIFY(ways);
    int met = 0, onWall = 0;
    render::PlaneWay::Run run;
    for (double y = 170; y < 700; y += 13) {
      for (double x = 3; x < 890; x += 29) {
        for (int k = 0; k < 3; ++k) {
          const auto m = ways->at({x + 7.0 * k, y});
          if (!m.met()) continue;
          ways->plane(m.by).at({x, y}, 7, run);
          const auto i = std::size_t(k);
          QCOMPARE_LE(std::hypot(double(run.x[i]) - m.layer.x, double(run.y[i]) - m.layer.y),
                      2e-3 * (1 + std::abs(m.layer.x) / 300));
          QCOMPARE_LE(std::abs(double(run.along[i]) - m.along), 1e-4 * (1 + m.along));
          ++met;
          onWall += m.by == render::ShadowWays::Met::By::wall;
        }
      }
    }
    QVERIFY(met > 300 && (onWall > 20) == (wallY > 0));
  }
  void aShadowIsTheMeanOverTheLight_data() {
    QTest::addColumn<double>("sizeDeg");
    QTest::addColumn<double>("wallY");
    QTest::addColumn<double>("mean");
    QTest::addColumn<double>("most");
    for (const auto& [size, mean, most] :
         {std::tuple(0.5, 6e-4, 8e-3), {6.0, 3e-3, 0.035}, {20.0, 7e-3, 0.045}, {45.0, 8e-3, 0.04}}) {
      QTest::addRow("%g", size) << size << 0.0 << mean << most;
      QTest::addRow("%g up a wall", size) << size << 420.0 << mean << most;
    }
  }
  // How much of the light's disc the caster hides, counted in 1250 places of the mask itself, and fading by the power itself.
  void aShadowIsTheMeanOverTheLight() {
    QFETCH(double, sizeDeg);
    QFETCH(double, wallY);
    QFETCH(double, mean);
    QFETCH(double, most);
    const scene::Scene s = scene_();
    const auto cast = shadowOf(sizeDeg, wallY);
    render::Caster caster(s, *s.layers[0], noShape());
    const auto ways = render::ShadowWays::of(s, cast, caster, 1);
    QVERIFY(ways);
    const base::Rect area{3, 130, 890, 560};
    render::Planes out(area.width * area.height);
    QVERIFY(test::must(render::paintLight(s, scene::LightContent{{2}, cast}, area, 0, noShape(), out)));
    const auto mask = test::must(image::readFloat(s.layers[0]->mask.coverage, 0, base::Rect::of(caster.size())));
    const auto hidden = [&](base::Point p, double radius) {
      double sum = 0;
      int n = 0;
      for (int b = 0; b < 40; ++b) {
        for (int a = 0; a < 40; ++a) {
          const double u = (a + 0.5) / 20 - 1, v = (b + 0.5) / 20 - 1;
          if (u * u + v * v > 1) continue;
          ++n;
          const int x = int(std::floor(p.x + radius * u)), y = int(std::floor(p.y + radius * v));
          if (x >= 0 && y >= 0 && x < mask.width() && y < mask.height()) sum += double(*mask.at(x, y));
        }
      }
      return sum / n;
    };
    int seen = 0;
    double worst = 0, sum = 0;
    for (int y = 0; y < area.height; y += 3) {
      for (int x = 0; x < area.width; x += 3) {
        const auto m = ways->at({area.x + x + 0.5, area.y + y + 0.5});
        const double want = m.met() ? ways->share(m.along) * hidden(m.layer, ways->radius(m.along)) : 0;
        const double off = std::abs(double(out.alpha()[y * area.width + x]) - want);
        worst = std::max(worst, off), sum += off;
        seen += want > 0.01;
      }
    }
    QVERIFY(seen > 300);
    QVERIFY2(sum / seen < mean && worst < most, qPrintable(QStringLiteral("%1 %2").arg(sum / seen).arg(worst)));
  }
};

HSEAM_TEST(ShadowWaysTest);
#include "shadow_ways_test.moc"
