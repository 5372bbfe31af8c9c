// hseam align, montage and fill: exit codes, JSON, files.

#include <QJsonArray>
#include <QTemporaryDir>
#include <cmath>

#include "cli/ran.h"
#include "core/image/picture_file.h"
#include "truth/shown_place.h"

using namespace hseam;

class FramesCommandTest : public QObject {
  Q_OBJECT
  static constexpr base::Size kPlaceSize{480, 360};
  QTemporaryDir dir_;
  QString at(const char* name) const { return dir_.filePath(QLatin1String(name)); }
  void write(const char* name, const image::TiledImage& i) const { test::must(image::writeTiled(at(name).toStdString(), i, 95)); }
  image::TiledImage read(const char* name) const {
    return test::must(image::readPicture(at(name).toStdString(), test::memory(), test::here(), {})).pixels;
  }

 private slots:
  void initTestCase() {
    const test::ShownPlace place(11, kPlaceSize);
    const auto somebody = [](double x0, double light) {
      return [=](double x, double y, int c) { return std::hypot((x - x0) / 30, (y - 180) / 70) < 1 ? light + 0.05 * c : -1.0; };
    };
    write("base.png", place.frame(kPlaceSize, {.before = somebody(110, 0.6)}, 1));
    write("moved.png",
          place.frame(kPlaceSize, {.toBase = {{1, 0, 3, 0, 1, -2, 0, 0, 1}}, .stops = 0.5, .before = somebody(350, 0.3)}, 2));
    write("other.png", test::ShownPlace(77, kPlaceSize).frame(kPlaceSize, {}, 3));
    write("picks.png", test::picture(kPlaceSize.width, kPlaceSize.height, 1, [](int x, int y, int) {
            return y > 150 && y < 210 ? (std::abs(x - 110) < 3 ? 1 : (std::abs(x - 353) < 3 ? 2 : 0)) : 0;
          }));
    write("hole.png", test::picture(kPlaceSize.width, kPlaceSize.height, 1, [](int x, int y, int) {
            return std::hypot((x - 110.0) / 34, (y - 180.0) / 74) < 1 ? 255 : 0;
          }));
  }
  void framesAreToldAndLaid() {
    const auto ran =
        test::hseamCommand({"--json", "align", at("base.png"), at("moved.png"), at("other.png"), "--out-dir", at("laid")});
    QVERIFY2(ran.code == 0, ran.err);
    const QJsonArray frames = ran.json()["frames"].toArray();
    const QJsonObject moved = frames[0].toObject(), other = frames[1].toObject();
    QCOMPARE(moved["verdict"].toString(), QStringLiteral("use"));
    QVERIFY(std::abs(moved["dx_px"].toDouble() - 3) < 0.03 && std::abs(moved["dy_px"].toDouble() + 2) < 0.03);
    QVERIFY(std::abs(moved["matrix"].toArray()[0].toArray()[2].toDouble() - 3) < 0.05);
    QVERIFY(std::abs(moved["gain_stops"].toDouble() - 0.5) < 0.02);
    QCOMPARE(other["verdict"].toString(), QStringLiteral("leave it out"));
    QVERIFY(!other["reason"].toString().isEmpty());
    const auto laid = test::must(image::readFloat(read("laid/moved.tif"), 0, base::Rect::of(kPlaceSize)));
    QCOMPARE(laid.channels(), 4);
    QCOMPARE(laid.at(200, 200)[3], 1.f);
    QCOMPARE(laid.at(0, 200)[3], 0.f);  // the frame begins 3 px further in
  }
  void twoFramesOfOneNameAreRefused() {
    const auto ran = test::hseamCommand({"align", at("base.png"), at("moved.png"), at("moved.png"), "--out-dir", at("twice")});
    QCOMPARE(ran.code, 1);
    QVERIFY(ran.err.contains("moved"));
  }
  void bothWhoArePickedShow() {
    const auto ran = test::hseamCommand({"--json", "montage", at("base.png"), at("moved.png"), "--picks", at("picks.png"),
                                         "--out", at("both.png"), "--labels", at("labels.png")});
    QVERIFY2(ran.code == 0, ran.err);
    const auto labels = test::must(image::readCoverage(at("labels.png").toStdString(), test::memory(), test::here()));
    const auto l = test::must(image::read8(labels, 0, base::Rect::of(kPlaceSize)));
    QCOMPARE(int(*l.at(110, 130)), 1);
    QCOMPARE(int(*l.at(353, 130)), 2);
    QCOMPARE(ran.json()["shares"].toArray().size(), 2);
  }
  void picksAreNeededAndMustFit() {
    QCOMPARE(test::hseamCommand({"montage", at("base.png"), at("moved.png"), "--out", at("no.png")}).code, 1);
    const auto small =
        test::hseamCommand({"montage", at("base.png"), at("moved.png"), "--picks", at("base.png"), "--out", at("no.png")});
    QCOMPARE(small.code, 1);
    QVERIFY(!QFile::exists(at("no.png")));
    QCOMPARE(test::hseamCommand({"montage", at("base.png"), at("moved.png"), "--mode", "darkest", "--out", at("no.png")}).code,
             2);
  }
  void theLightestNeedsNoPicks() {
    const auto ran =
        test::hseamCommand({"montage", at("base.png"), at("moved.png"), "--mode", "lightest", "--out", at("light.png")});
    QVERIFY2(ran.code == 0, ran.err);
  }
  void aHoleIsFilledAndNothingElseChanges() {
    const auto ran = test::hseamCommand({"--json", "fill", at("base.png"), "--hole", at("hole.png"), "--out", at("filled.png")});
    QVERIFY2(ran.code == 0, ran.err);
    const base::Rect all = base::Rect::of(kPlaceSize);
    const auto before = test::must(image::read8(read("base.png"), 0, all)),
               after = test::must(image::read8(read("filled.png"), 0, all));
    const auto hole = test::must(image::readCoverage(at("hole.png").toStdString(), test::memory(), test::here()));
    const auto h = test::must(image::read8(hole, 0, all));
    int changed = 0;
    for (std::size_t i = 0; i < h.pixels(); ++i) {
      const bool same =
          std::equal(before.samples().data() + 3 * i, before.samples().data() + 3 * i + 3, after.samples().data() + 3 * i);
      QVERIFY(h.samples()[i] > 127 || same);
      changed += !same;
    }
    QVERIFY(changed > 5000);
  }
};
HSEAM_TEST(FramesCommandTest);
#include "frames_test.moc"
