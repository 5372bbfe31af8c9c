#include <QCheckBox>
#include <QComboBox>

#include "app/ribbon/seam_ribbon.h"
#include "app/stations/cut_out/cut_out.h"
#include "app/window.h"
#include "core/matte/edge_readings.h"
#include "truth/rendered_mattes.h"

using namespace hseam;

// One subject, three kinds of edge: a path on the crisp side, a band over strands, strands painted by hand; all of it still
// editable when the project comes back.
class MixedCutTest : public QObject {
  Q_OBJECT

  truth::Description what_;
  truth::Matte truth_;
  matte::Unrolled edge_;  // of the true alpha
  QTemporaryDir dir_;
  QString picture_ = dir_.filePath(QStringLiteral("subject.png"));

  // The longest run of the true edge with a tag, away from the picture's border.
  std::pair<int, int> runOf(truth::EdgeTag tag) const {
    std::pair<int, int> best{0, 0};
    int first = 0;
    for (int i = 0; i <= int(edge_.places.size()); ++i) {
      const bool in = i < int(edge_.places.size()) && edge_.places[std::size_t(i)].outline == 0 &&
                      truth::edgeTagAt(what_, edge_.places[std::size_t(i)].at.x, edge_.places[std::size_t(i)].at.y) == tag &&
                      edge_.places[std::size_t(i)].at.y < what_.height - 60;
      if (in) continue;
      if (i - first > best.second) best = {first, i - first};
      first = i + 1;
    }
    return best;
  }
  QPointF at(int place, double outwards = 0) const {
    const auto& p = edge_.places[std::size_t(place)];
    return {p.at.x + p.outward.x * outwards, p.at.y + p.outward.y * outwards};
  }
  static double coverage(test::Window& w, const QPointF& p) {
    return test::maskAt(*w.desk().session.activeLayer(), int(p.x()), int(p.y()));
  }
  // Mean |mask − truth| in 1/1000 over pixels within reach of a run's places.
  double error(test::Window& w, int first, int count, int reach) const {
    const auto mask =
        test::must(image::readFloat(w.desk().session.activeLayer()->mask.coverage, 0, {0, 0, what_.width, what_.height}));
    double sum = 0;
    int n = 0;
    for (int i = first; i < first + count; ++i) {
      for (int d = -reach; d <= reach; ++d) {
        const QPointF p = at(i, d);
        const int x = std::clamp(int(p.x()), 0, what_.width - 1), y = std::clamp(int(p.y()), 0, what_.height - 1);
        sum += std::abs(double(*mask.at(x, y) - *truth_.alpha.at(x, y)));
        ++n;
      }
    }
    return 1000 * sum / n;
  }
  static void clickAt(test::Window& w, const QPointF& p) {
    QTest::mouseMove(&w.canvas(), w.at(p.x(), p.y()));
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(p.x(), p.y()));
    w.settle();
  }

 private slots:
  void initTestCase() {
    what_.kind = truth::Kind::mixed, what_.ground = truth::Ground::paper, what_.seed = 31;
    what_.width = 700, what_.height = 580;
    truth_ = truth::rendered(what_);
    const auto tiled = [](const image::Raster<float>& r) {
      return test::picture(r.width(), r.height(), r.channels(), [&](int x, int y, int c) { return double(r.at(x, y)[c]) * 255; });
    };
    test::must(image::writeTiled(picture_.toStdString(), tiled(truth_.picture)));
    edge_ = test::must(matte::unrolled(tiled(truth_.alpha)));
  }

  void pathBandAndStrandsComeBackAndStayEditable() {
    const auto [solid, solidCount] = runOf(truth::EdgeTag::solid);
    const auto [hair, hairCount] = runOf(truth::EdgeTag::hair);
    const auto [soft, softCount] = runOf(truth::EdgeTag::soft);
    QVERIFY(solidCount > 150 && hairCount > 150 && softCount > 60);
    const QString file = dir_.filePath(QStringLiteral("cut.hseam"));
    const int solidMiddle = solid + solidCount / 2;
    {
      test::Window w;
      w.workspace().newScene({50, 50});
      w.open({picture_});
      w.goTo(test::kCutOut);
      // A freehand outline some px off the true one.
      w.openPage("outline");
      auto* shape = w->findChild<QComboBox*>(QStringLiteral("outlines"));
      shape->setFocus();
      QTest::keyClick(shape, Qt::Key_Home);
      w.settle();
      QList<QPointF> round;
      for (int i = 0; i < int(edge_.places.size()) && edge_.places[std::size_t(i)].outline == 0; i += 10)
        round << at(i, 4 * std::sin(i * 0.03));
      w.drag(Qt::LeftButton, round);
      QVERIFY(!w.desk().session.activeLayer()->picture()->cutout->selection.isNull());
      // The whole edge is solved in a band that the program finds.
      w.openPage("solve");
      w.click(QStringLiteral("Solve"));
      QVERIFY(!w.desk().session.activeLayer()->picture()->cutout->alpha.isNull());
      const double asFound = error(w, hair + 30, hairCount - 60, 40);
      // The hair is marked along the canvas and solved again as hair, with longer strands.
      w.openPage("shape");
      QList<QPointF> along;
      for (int i = hair + 8; i < hair + hairCount - 8; i += 12) along << at(i);
      w.drag(Qt::LeftButton, along);
      w.click(QStringLiteral("Solve the marked stretch as hair"));
      const auto plan = test::must(matte::edgePlanFrom(w.desk().session.activeLayer()->picture()->cutout->edgePlan));
      QCOMPARE(plan.stretches.size(), std::size_t(1));
      QCOMPARE(plan.stretches[0].kind, std::optional(matte::EdgeKind::hair));
      const double asHair = error(w, hair + 30, hairCount - 60, 40);
      QVERIFY2(asHair < 92 && asFound < 180, qPrintable(QString("%1, as found %2").arg(asHair).arg(asFound)));
      // The ribbon's kinds: a drag there marks the crisp side; it takes the sub-pixel fit.
      w.drag(Qt::LeftButton, {at(solid + 10), at(solidMiddle), at(solid + solidCount - 10)});
      w.click(QStringLiteral("Solve the marked stretch as solid"));
      QVERIFY2(error(w, solid + 30, solidCount - 60, 6) < 40,
               qPrintable(QString::number(error(w, solid + 30, solidCount - 60, 6))));
      // A path: tight along the crisp side, far outside elsewhere. It bounds the mask.
      w.openPage("path");
      const base::Point out = edge_.places[std::size_t(solidMiddle)].outward;
      QVERIFY(out.x < -0.5);  // the crisp side is the left one
      // Places go round clockwise: along the left side upwards.
      QList<QPointF> nodes;
      for (const double share : {0.1, 0.35, 0.6, 0.9}) nodes << at(solid + int(share * solidCount), 0.5);
      nodes << QPointF(nodes.last().x(), 4) << QPointF(696, 4) << QPointF(696, 576) << QPointF(nodes.first().x(), 576);
      for (const QPointF& n : nodes) clickAt(w, n);
      clickAt(w, nodes.first());
      w.find<QCheckBox>(QStringLiteral("bounds the mask"))->click();
      w.settle();
      QVERIFY(w.desk().session.activeLayer()->mask.pathActs);
      QCOMPARE(int(coverage(w, at(solidMiddle, 8))), 0);
      QVERIFY(coverage(w, at(solidMiddle, -8)) > 245);
      // Strands by hand on the blurred side.
      w.openPage("paint");
      auto* tips = w.find<QComboBox>(QStringLiteral("Tip"));
      tips->setFocus();
      QTest::keyClick(tips, Qt::Key_Down);
      w.settle();
      QVERIFY(tips->currentIndex() == 1);
      if (auto* lies = w.find<QComboBox>(QStringLiteral("How strands lie")); lies->currentIndex() != 0)
        QFAIL("strands do not stand out");
      const int steps = w.desk().session.history().current();
      const auto sumBeyond = [&] {
        double sum = 0;
        for (int i = soft + 10; i < soft + softCount - 10; ++i) sum += coverage(w, at(i, 30));
        return sum;
      };
      const double bare = sumBeyond();
      QList<QPointF> stroke;
      for (int i = soft + 10; i < soft + softCount - 10; i += 6) stroke << at(i, -4);
      w.drag(Qt::LeftButton, stroke);
      QCOMPARE(w.desk().session.history().current(), steps + 1);
      QVERIFY(sumBeyond() > bare + 2000);
      // In the ribbon, the right button hides across the edge at the matching place.
      app::SeamRibbon& ribbon = w->ribbon();
      const image::TiledImage before = w.desk().session.activeLayer()->mask.coverage;
      w.dragIn(&ribbon, Qt::RightButton, {QPoint(ribbon.width() / 2, 50), QPoint(ribbon.width() / 2 + 30, 50)});
      QVERIFY(!image::differenceOf(before, w.desk().session.activeLayer()->mask.coverage).empty());
      w.desk().session.undo();
      w.settle();
      w.saveAs(file);
    }
    test::Window w;
    w.open({file});
    w.goTo(test::kCutOut);
    // A point of the path is moved outwards by keys: 6 px less are cut away, the fit below shows again.
    w.openPage("path");
    const auto kept = w.desk().session.activeLayer()->mask.path;
    QVERIFY(kept && w.desk().session.activeLayer()->mask.pathActs);
    const std::size_t moved = 1;
    const base::Point node = kept->outlines[0].nodes[moved].at;
    clickAt(w, {node.x, node.y});
    w.canvas().setFocus();
    for (int i = 0; i < 12; ++i) QTest::keyClick(&w.canvas(), Qt::Key_Right);
    w.settle();
    const double by = w.desk().session.activeLayer()->mask.path->outlines[0].nodes[moved].at.x - node.x;
    QVERIFY(by > 6);
    // Now the path runs inside the subject there: what lies left of it is cut away.
    QCOMPARE(int(coverage(w, {node.x + by / 2 - 2, node.y})), 0);
    QVERIFY(coverage(w, {node.x + by + 4, node.y}) > 240);
    w.desk().session.undo();
    w.settle();
    for (int i = 0; i < 11 && w.desk().session.activeLayer()->mask.path->outlines[0].nodes[moved].at.x > node.x + 0.01; ++i) {
      w.desk().session.undo();
      w.settle();
    }
    QVERIFY(coverage(w, {node.x + by / 2 + 2, node.y}) > 200);
    // The hair stretch is taken in hand again by a click, and moved 3 px inwards.
    w.openPage("shape");
    clickAt(w, at(hair + hairCount / 2));
    QCOMPARE(w.find<QComboBox>(QStringLiteral("Which part of the edge is shaped"))->currentIndex(), 4);
    const auto sumAcross = [&] {
      double sum = 0;
      for (int i = hair + 60; i < hair + hairCount - 60; ++i) {
        for (int d = -20; d <= 20; ++d) sum += coverage(w, at(i, d)) / 255;
      }
      return sum / (hairCount - 120);
    };
    const double whole = sumAcross(), soft0 = coverage(w, at(soft + softCount / 2));
    w.type(w.find<QAbstractSpinBox>(QStringLiteral("outwards")), QStringLiteral("-3"));
    const auto plan = test::must(matte::edgePlanFrom(w.desk().session.activeLayer()->picture()->cutout->edgePlan));
    QVERIFY(plan.stretches.size() == 2 && plan.stretches[0].shape && plan.stretches[0].shape->offsetPx == -3);
    const double less = whole - sumAcross();
    QVERIFY2(less > 1.5 && less < 4.5, qPrintable(QString::number(less)));
    QCOMPARE(coverage(w, at(soft + softCount / 2)), soft0);
    // The solution itself was not touched: as solved again, to the bit.
    w.desk().session.undo();
    w.settle();
    QVERIFY(std::abs(sumAcross() - whole) < 1e-9);
  }
  void hairIsExtendedOnALayerOfItsOwn() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({picture_});
    const scene::LayerId id = w.desk().session.active();
    const auto alpha =
        test::picture(what_.width, what_.height, 1, [&](int x, int y, int) { return double(*truth_.alpha.at(x, y)) * 255; });
    w.desk().session.apply(scene::SetCut{id, alpha, w.desk().session.activeLayer()->picture()->source, alpha, "{}"});
    w.goTo(test::kCutOut);
    w.openPage("paint");
    auto* tips = w.find<QComboBox>(QStringLiteral("Tip"));
    tips->setFocus();
    QTest::keyClick(tips, Qt::Key_Down);
    w.settle();
    w.click(QStringLiteral("Extend with its own hair…"));
    const auto [hair, count] = runOf(truth::EdgeTag::hair);
    const QPointF from = at(hair + count / 2, -30), to = at(hair + count / 2, 20);
    w.drag(Qt::LeftButton, {from, to});
    QCOMPARE(w->currentStation(), int(test::kMatch));
    const scene::Layer* copy = w.desk().session.activeLayer();
    QVERIFY(copy->id != id);
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    const auto& a = scene::findLayer(w.scene(), id)->picture()->placement;
    const auto& b = copy->picture()->placement;
    QVERIFY(std::hypot(b.x - a.x - a.scale * (to.x() - from.x()), b.y - a.y - a.scale * (to.y() - from.y())) < 2);
    QVERIFY(image::isUniformIn(copy->mask.coverage, {0, 0, what_.width, what_.height}, 0));
    // Painted in, it never shows more than the cut covers.
    const auto toScene = b.toScene(copy->picture()->source.size());
    QList<QPointF> stroke;
    for (int i = hair + count / 2 - 60; i < hair + count / 2 + 60; i += 8) {
      const QPointF p = at(i, -10);
      const base::Point s = toScene.map({p.x(), p.y()});
      stroke << QPointF(s.x, s.y);
    }
    w.drag(Qt::LeftButton, stroke);
    const auto mask =
        test::must(image::read8(w.desk().session.activeLayer()->mask.coverage, 0, {0, 0, what_.width, what_.height}));
    const auto most = test::must(image::read8(alpha, 0, {0, 0, what_.width, what_.height}));
    int shown = 0;
    for (std::size_t i = 0; i < mask.samples().size(); ++i) {
      QVERIFY(mask.samples()[i] <= most.samples()[i]);
      shown += mask.samples()[i] > 20;
    }
    QVERIFY2(shown > 300, qPrintable(QString::number(shown)));
  }
};

HSEAM_TEST(MixedCutTest);
#include "mixed_cut_test.moc"
