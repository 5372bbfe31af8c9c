#include "core/findings/found_floor.h"

#include <algorithm>

#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <cmath>

#include "core/findings/report.h"
#include "core/image/picture_file.h"
#include "core/render/scenes.h"

using namespace hseam;

// Rendered places whose camera is known.
class FoundFloorTest : public QObject {
  Q_OBJECT

  static QString folder(const char* place) {
    return QStringLiteral(HSEAM_STANDING "/") + QLatin1String(place) + QStringLiteral("-crates/");
  }
  static scene::Scene sceneOf(const char* place, const scene::Placement& at, base::Size canvas) {
    const auto picture = test::must(
        image::readPicture((folder(place) + QStringLiteral("ground.jpg")).toStdString(), test::memory(), test::here(), {}));
    scene::Layer l = test::pictureLayer(1, picture.pixels);
    auto content = *l.picture();
    content.placement = at;
    l.content = content;
    scene::Scene s;
    s.canvas = canvas;
    return test::must(scene::apply(s, scene::AddLayer{l, {}, -1}));
  }
  static double horizonOf(const char* place) {
    QFile facts(folder(place) + QStringLiteral("facts.json"));
    if (!facts.open(QIODevice::ReadOnly)) qFatal("no facts of %s", place);
    return QJsonDocument::fromJson(facts.readAll()).object()[QStringLiteral("horizon_y")].toDouble();
  }

 private slots:
  void whatLinesTellIsRightAndTheRestIsNotTold() {
    int told = 0;
    for (const char* place : {"deck-noon", "hall-window", "meadow-grey", "quay-dusk", "quay-noon", "snow-morning"}) {
      const auto found = test::must(findings::foundFloor(sceneOf(place, {}, {900, 600})));
      if (!found.floor) {
        QVERIFY(!found.reason.empty());
        continue;
      }
      ++told;
      QVERIFY2(
          std::abs(found.floor->horizonY - horizonOf(place)) < 3,
          qPrintable(QStringLiteral("%1: %2 for %3").arg(QLatin1String(place)).arg(found.floor->horizonY).arg(horizonOf(place))));
    }
    QVERIFY(told >= 1);
  }
  void itFollowsThePicturesPlace() {
    scene::Placement at;
    at.x = 40, at.y = -30, at.scale = 0.5;
    const auto half = test::must(findings::foundFloor(sceneOf("quay-noon", at, {500, 280})));
    QVERIFY(half.floor && std::abs(half.floor->horizonY - (horizonOf("quay-noon") / 2 - 30)) < 2);
    at = {};
    at.rotationDeg = 4, at.flipX = true;
    const auto turned = test::must(findings::foundFloor(sceneOf("quay-noon", at, {900, 600})));
    QVERIFY(turned.floor && std::abs(turned.floor->tiltDeg - 4) < 0.5);
    // Turned about the picture's middle, which is the canvas's.
    QVERIFY(std::abs(turned.floor->horizonY - (300 + (horizonOf("quay-noon") - 300) / std::cos(4 * M_PI / 180))) < 4);
  }
  void theReportUsesItAndKnowsItAgain() {
    scene::Scene s = sceneOf("quay-noon", {}, {900, 600});
    // Somebody whose foot lies where nobody could know, were there no lines.
    const auto body = test::picture(60, 120, 4, [](int x, int y, int c) {
      return c < 3 ? 60.0 + 20 * c : 255 * std::clamp(28 - std::hypot(x - 30.0, (y - 60.0) / 2) + 0.5, 0.0, 1.0);
    });
    scene::Layer l = test::pictureLayer(2, body, 300, 200);
    s = test::must(scene::apply(s, scene::AddLayer{l, {}, -1}));
    const auto report = test::must(findings::reportOn(s, test::here(), {}));
    QVERIFY(report.floor.floor && report.floor.lines > 8);
    const auto contact = std::find_if(report.readings.begin(), report.readings.end(),
                                      [](const auto& v) { return v.kind == findings::KindId::contactShadow; });
    QVERIFY2(contact != report.readings.end() && contact->available,
             contact == report.readings.end() ? "not judged" : contact->reason.text().c_str());
    QVERIFY(contact->asks == findings::Asks::floor);
    const auto again = test::must(findings::reportOn(s, test::here(), {}, &report));
    QVERIFY(again.judgedAnew == 0 && again.floor.place == report.floor.place);
    // What somebody has drawn counts alone.
    scene::Floor drawn = scene::usualFloor(s.canvas);
    const auto set =
        test::must(findings::reportOn(test::must(scene::apply(s, scene::SetFloor{drawn})), test::here(), {}, &report));
    QVERIFY(!set.floor.floor);
  }
};

HSEAM_TEST(FoundFloorTest);
#include "found_floor_test.moc"
