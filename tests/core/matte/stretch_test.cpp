// Single stretches of an edge: found to a fraction of a pixel, solved anew, shaped; nothing beside them changes.

#include "core/matte/edge_fit.h"
#include "core/matte/edge_shape.h"
#include "core/matte/stretch_solve.h"
#include "core/matte/trimap.h"
#include "pictures.h"
#include "truth/rendered_mattes.h"

using namespace hseam;

namespace {

image::TiledImage tiledRaster(const image::Raster<float>& r) {
  return test::picture(r.width(), r.height(), r.channels(), [&](int x, int y, int c) { return double(r.at(x, y)[c]) * 255; });
}

// Mean of |a − truth| over pixels near the places of a run, in 1/1000.
double errorNear(const image::TiledImage& alpha, const image::Raster<float>& truth, const matte::Unrolled& outline, int first,
                 int count, int reach) {
  const auto a = test::must(image::readFloat(alpha, 0, base::Rect::of(alpha.size())));
  std::vector<bool> near(truth.pixels(), false);
  for (int i = first; i < first + count; ++i) {
    const auto p = outline.places[std::size_t(i)].at;
    for (int y = std::max(0, int(p.y) - reach); y < std::min(truth.height(), int(p.y) + reach); ++y) {
      for (int x = std::max(0, int(p.x) - reach); x < std::min(truth.width(), int(p.x) + reach); ++x)
        near[std::size_t(y) * std::size_t(truth.width()) + std::size_t(x)] = true;
    }
  }
  double sum = 0;
  std::size_t n = 0;
  for (std::size_t i = 0; i < near.size(); ++i) {
    if (near[i]) sum += std::abs(double(a.samples()[i] - truth.samples()[i])), ++n;
  }
  return 1000 * sum / double(n);
}

// The longest run of places of one tag that keeps away from the picture's border.
std::pair<int, int> runOf(truth::EdgeTag tag, const truth::Description& d, const matte::Unrolled& outline) {
  std::pair<int, int> best{0, 0};
  int first = 0;
  for (int i = 0; i <= int(outline.places.size()); ++i) {
    const bool in = i < int(outline.places.size()) && outline.places[std::size_t(i)].outline == 0 &&
                    truth::edgeTagAt(d, outline.places[std::size_t(i)].at.x, outline.places[std::size_t(i)].at.y) == tag &&
                    outline.places[std::size_t(i)].at.y < d.height - 40;
    if (!in) {
      if (i - first > best.second) best = {first, i - first};
      first = i + 1;
    }
  }
  return best;
}

truth::Description mixedOverGround(truth::Ground ground, std::uint64_t seed) {
  truth::Description d;
  d.kind = truth::Kind::mixed, d.ground = ground, d.seed = seed;
  d.width = 700, d.height = 580;
  return d;
}

image::TiledImage discOf(double radius, double softness) {
  return test::picture(400, 400, 1, [&](int x, int y, int) {
    const double s = std::hypot(x + 0.5 - 200, y + 0.5 - 200) - radius;
    return 255 * matte::coverageAcross(s, 0, softness);
  });
}

// Mean radius at which coverage passes one half, and mean 10–90 % width.
std::pair<double, double> ringOf(const image::TiledImage& alpha) {
  const auto outline = test::must(matte::unrolled(alpha));
  std::vector<double> mid;
  const auto forms = test::must(matte::edgeForms(outline, 0, int(outline.places.size()), alpha, &mid));
  double radius = 0, width = 0;
  for (std::size_t i = 0; i < mid.size(); ++i) {
    const auto& p = outline.places[i];
    radius += std::hypot(p.at.x + p.outward.x * mid[i] - 200, p.at.y + p.outward.y * mid[i] - 200);
    width += double(forms[i].softnessPx);
  }
  return {radius / double(mid.size()), width / double(mid.size())};
}

matte::EdgePlan everywhere(const matte::EdgeShape& shape) {
  matte::EdgePlan plan;
  plan.byKind = {shape, shape, shape};
  return plan;
}

}  // namespace

class StretchTest : public QObject {
  Q_OBJECT
 private slots:
  void crispEdgesAreFoundWithinAFractionOfAPixel() {
    // A discOf whose true radius and blur are known, with an outline that lies up to 4 px off it.
    for (const double off : {-4.0, 0.0, 3.0}) {
      const double radius = 120.37, sigma = 0.9;
      const image::TiledImage truth = discOf(radius, sigma);
      const auto a = test::must(image::readFloat(truth, 0, base::Rect::of(truth.size())));
      test::Noise noise(7);
      const image::TiledImage picture = test::picture(400, 400, 3, [&](int x, int y, int c) {
        const double in[] = {0.62, 0.30, 0.12}, out[] = {0.10, 0.22, 0.45};
        const double v = double(*a.at(x, y)) * in[c] + (1 - double(*a.at(x, y))) * out[c];
        return v * 255 + noise.below(5) - 2;
      });
      const auto outline = test::must(matte::unrolled(discOf(radius + off, sigma)));
      const auto edge = test::must(matte::fittedEdge(outline, 0, int(outline.places.size()), picture, true));
      double worst = 0, blur = 0;
      for (std::size_t i = 0; i < edge.outwardsPx.size(); ++i) {
        const auto& p = outline.places[i];
        const double r = std::hypot(p.at.x - 200, p.at.y - 200) + edge.outwardsPx[i];
        worst = std::max(worst, std::abs(r - radius));
        blur += edge.sigmaPx[i] / double(edge.sigmaPx.size());
        QVERIFY(edge.certainty[i] > 0.5);
      }
      QVERIFY2(worst < 0.12, qPrintable(QString("outline off by %1: %2 px").arg(off).arg(worst)));
      QVERIFY2(std::abs(blur - sigma) < 0.15, qPrintable(QString::number(blur)));
    }
  }
  void aSolidStretchTakesTheFit_data() {
    QTest::addColumn<int>("ground");
    QTest::newRow("paper") << int(truth::Ground::paper);
    QTest::newRow("boards") << int(truth::Ground::boards);
  }
  void aSolidStretchTakesTheFit() {
    QFETCH(int, ground);
    const truth::Description d = mixedOverGround(truth::Ground(ground), 5);
    const truth::Matte m = truth::rendered(d);
    const image::TiledImage picture = tiledRaster(m.picture), rough = test::picture(truth::roughSelection(m.alpha, 3, 60, 8));
    const auto outline = test::must(matte::unrolled(rough));
    const auto [first, count] = runOf(truth::EdgeTag::solid, d, outline);
    QVERIFY(count > 150);
    matte::StretchSolveOptions options;
    options.as = matte::EdgeKind::solid;
    const auto solved = test::must(matte::solveStretch(picture, {}, rough, {}, outline, first, count, options, test::here(), {}));
    const double before = errorNear(rough, m.alpha, outline, first + 20, count - 40, 8),
                 after = errorNear(solved.cut.alpha, m.alpha, outline, first + 20, count - 40, 8);
    QVERIFY2(after < 12 && after < 0.2 * before, qPrintable(QString("%1 from %2").arg(after).arg(before)));
  }
  void aHairStretchIsSolvedAloneAndNothingElseChanges() {
    const truth::Description d = mixedOverGround(truth::Ground::paper, 31);
    const truth::Matte m = truth::rendered(d);
    const image::TiledImage picture = tiledRaster(m.picture), rough = test::picture(truth::roughSelection(m.alpha, 3, 60, 8));
    const auto outline = test::must(matte::unrolled(rough));
    const auto [first, count] = runOf(truth::EdgeTag::hair, d, outline);
    QVERIFY(count > 150);
    matte::StretchSolveOptions options;
    options.solving.encodedShare = 0;  // as solving the whole edge would have found out
    const auto solved = test::must(matte::solveStretch(picture, {}, rough, {}, outline, first, count, options, test::here(), {}));
    const double before = errorNear(rough, m.alpha, outline, first + 20, count - 40, 40),
                 after = errorNear(solved.cut.alpha, m.alpha, outline, first + 20, count - 40, 40);
    QVERIFY2(after < 110 && after < 0.55 * before, qPrintable(QString("%1 from %2").arg(after).arg(before)));
    // All that changed lies nearest to the stretch.
    const auto now = test::must(image::read8(solved.cut.alpha, 0, base::Rect::of(picture.size()))),
               then = test::must(image::read8(rough, 0, base::Rect::of(picture.size())));
    const auto shown = test::must(image::read8(solved.cut.clean, 0, base::Rect::of(picture.size()))),
               original = test::must(image::read8(picture, 0, base::Rect::of(picture.size())));
    int changed = 0;
    for (int y = 0; y < d.height; ++y) {
      for (int x = 0; x < d.width; ++x) {
        const bool same = *now.at(x, y) == *then.at(x, y) && std::equal(shown.at(x, y), shown.at(x, y) + 3, original.at(x, y));
        if (same) continue;
        ++changed;
        double least = 1e9, onStretch = 1e9;
        for (int i = 0; i < int(outline.places.size()); ++i) {
          const auto p = outline.places[std::size_t(i)].at;
          const double away = std::hypot(p.x - x - 0.5, p.y - y - 0.5);
          least = std::min(least, away);
          if (i >= first && i < first + count) onStretch = std::min(onStretch, away);
        }
        // The chamfer's distances decide between neighbours by a few px.
        QVERIFY(onStretch < 92 && onStretch < least + 4);
      }
    }
    QVERIFY(changed > 2000);
  }
  void anOffsetMovesTheEdgeByExactlyThat() {
    const image::TiledImage alpha = discOf(120, 1.0);
    const auto [radius, width] = ringOf(alpha);
    for (const double by : {-3.3, 0.6, 2.75}) {
      const auto shaped = test::must(matte::shapedAlpha(alpha, everywhere({by, 1, 0, 0}), test::here(), {}));
      const auto [r, w] = ringOf(shaped);
      QVERIFY2(std::abs(r - radius - by) < 0.06, qPrintable(QString("%1: %2").arg(by).arg(r - radius)));
      QVERIFY(std::abs(w - width) < 0.25);
    }
  }
  void widthAndTailShapeTheWayAcross() {
    const image::TiledImage alpha = discOf(120, 2.5);
    const auto [radius, width] = ringOf(alpha);
    for (const double factor : {0.4, 2.0}) {
      const auto shaped = test::must(matte::shapedAlpha(alpha, everywhere({0, factor, 0, 0}), test::here(), {}));
      const auto [r, w] = ringOf(shaped);
      QVERIFY2(std::abs(w / width / factor - 1) < 0.12, qPrintable(QString("%1: %2 from %3").arg(factor).arg(w).arg(width)));
      QVERIFY(std::abs(r - radius) < 0.1);
    }
    const auto sumOf = [](const image::TiledImage& i) {
      const auto a = test::must(image::readFloat(i, 0, base::Rect::of(i.size())));
      return std::accumulate(a.samples().begin(), a.samples().end(), 0.0);
    };
    const double plain = sumOf(alpha);
    QVERIFY(sumOf(test::must(matte::shapedAlpha(alpha, everywhere({0, 1, 0.5, 0}), test::here(), {}))) > plain + 300);
    QVERIFY(sumOf(test::must(matte::shapedAlpha(alpha, everywhere({0, 1, -0.5, 0}), test::here(), {}))) < plain - 300);
  }
  void roundingEvensBumpsAndKeepsTheForm() {
    const auto bumpy = [](double height) {
      return test::picture(400, 400, 1, [&](int x, int y, int) {
        const double dx = x + 0.5 - 200, dy = y + 0.5 - 200;
        const double r = 120 + height * std::sin(40 * std::atan2(dy, dx));  // a bump every 19 px of arc
        return 255 * matte::coverageAcross(std::hypot(dx, dy) - r, 0, 0.8);
      });
    };
    const auto spread = [](const image::TiledImage& i) {
      const auto outline = test::must(matte::unrolled(i));
      std::vector<double> mid;
      test::must(matte::edgeForms(outline, 0, int(outline.places.size()), i, &mid));
      double sum = 0, squares = 0;
      for (std::size_t k = 0; k < mid.size(); ++k) {
        const auto& p = outline.places[k];
        const double r = std::hypot(p.at.x + p.outward.x * mid[k] - 200, p.at.y + p.outward.y * mid[k] - 200);
        sum += r, squares += r * r;
      }
      const double n = double(mid.size()), mean = sum / n;
      return std::pair(mean, std::sqrt(squares / n - mean * mean));
    };
    const image::TiledImage rough = bumpy(2);
    const auto [meanBefore, before] = spread(rough);
    QVERIFY(before > 1);
    const auto [mean, after] = spread(test::must(matte::shapedAlpha(rough, everywhere({0, 1, 0, 30}), test::here(), {})));
    QVERIFY2(after < 0.35 * before, qPrintable(QString("%1 from %2").arg(after).arg(before)));
    QVERIFY2(std::abs(mean - meanBefore) < 0.3, qPrintable(QString::number(mean - meanBefore)));  // a plain average shrinks by 1
  }
  void shapesActWhereTheyAreMeant() {
    const image::TiledImage alpha = discOf(120, 1.0);
    const auto outline = test::must(matte::unrolled(alpha));
    // Another kind's shape does nothing to the bit.
    matte::EdgePlan hairOnly;
    hairOnly.byKind[2] = {5, 1, 0, 0};
    QVERIFY(image::differenceOf(test::must(matte::shapedAlpha(alpha, hairOnly, test::here(), {})), alpha).empty());
    matte::EdgePlan marked;
    marked.stretches.push_back(matte::markedFrom(outline, 100, 120));
    marked.stretches.back().shape = matte::EdgeShape{3, 1, 0, 0};
    const auto shaped = test::must(matte::shapedAlpha(alpha, marked, test::here(), {}));
    std::vector<double> mid;
    test::must(matte::edgeForms(outline, 0, int(outline.places.size()), shaped, &mid));
    for (int i = 0; i < int(mid.size()); ++i) {
      const bool in = i >= 130 && i < 190, out = i < 70 || i > 250;
      if (in) QVERIFY2(std::abs(mid[std::size_t(i)] - 3) < 0.15, qPrintable(QString("%1: %2").arg(i).arg(mid[std::size_t(i)])));
      if (out) QVERIFY(std::abs(mid[std::size_t(i)]) < 0.25);
    }
  }
  void specksAndPinholesGo() {
    const image::TiledImage alpha = test::picture(400, 400, 1, [](int x, int y, int) {
      const bool hole = std::hypot(x - 200, y - 180) < 2.5, speck = std::hypot(x - 370, y - 30) < 2.5,
                 island = std::hypot(x - 30, y - 370) < 8;
      return (std::hypot(x - 200, y - 200) < 120 && !hole) || speck || island ? 255.0 : 0.0;
    });
    matte::EdgePlan plan;
    plan.specksPx = 40;
    const auto a = test::must(image::read8(test::must(matte::shapedAlpha(alpha, plan, test::here(), {})), 0, {0, 0, 400, 400}));
    QCOMPARE(int(*a.at(200, 180)), 255);
    QCOMPARE(int(*a.at(370, 30)), 0);
    QCOMPARE(int(*a.at(30, 370)), 255);
  }
  void plansComeBackFromTheirText() {
    const auto outline = test::must(matte::unrolled(discOf(120, 1.0)));
    matte::EdgePlan plan;
    plan.byKind[1] = {0.25, 0.5, -0.5, 12};
    plan.specksPx = 9;
    plan.stretches.push_back(matte::markedFrom(outline, int(outline.places.size()) - 20, 50));  // round the outline's end
    plan.stretches.back().kind = matte::EdgeKind::hair;
    QCOMPARE(test::must(matte::edgePlanFrom(matte::toText(plan))), plan);
    QVERIFY(matte::toText({}).empty());
    QCOMPARE(matte::stretchAt(plan, outline, 0, 25), std::optional<std::size_t>(0));
    QCOMPARE(matte::stretchAt(plan, outline, 200, 25), std::nullopt);
    for (const char* broken : {"{", "[]", R"({"stretches":[{"along":[[1]]}]})", R"({"stretches":3})"})
      QCOMPARE(matte::edgePlanFrom(broken).error().code, base::Code::corrupt);
    QCOMPARE(test::must(matte::edgePlanFrom(R"({"byKind":{"soft":{"width":1e9}}})")).byKind[1].width, 4.0);
  }
};

HSEAM_TEST(StretchTest);
#include "stretch_test.moc"
