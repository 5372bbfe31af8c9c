#include <QComboBox>
#include <QLabel>
#include <QRegularExpression>

#include "app/window.h"

using namespace hseam;

// Several subjects of one picture as layers; a cut beside an earlier one of the same layer.
class SeveralSubjectsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  // Two dark discs on paper.
  QString twoDiscs() {
    const QString path = dir_.filePath(QStringLiteral("two.png"));
    const auto picture = test::picture(400, 300, 3, [](int x, int y, int c) {
      const double d = std::min(std::hypot(x - 110.0, y - 150.0) - 60, std::hypot(x - 290.0, y - 150.0) - 50);
      const double a = std::clamp(0.5 - d, 0.0, 1.0), paper[3] = {236, 234, 228}, felt[3] = {60, 70, 110};
      return paper[c] + a * (felt[c] - paper[c]) + (x * 7 + y * 13) % 3;
    });
    test::must(image::writeTiled(path.toStdString(), picture));
    return path;
  }
  static image::TiledImage discs(double grow) {
    return test::picture(400, 300, 1, [grow](int x, int y, int) {
      const double d = std::min(std::hypot(x - 110.0, y - 150.0) - 60, std::hypot(x - 290.0, y - 150.0) - 50);
      return 255 * std::clamp(0.5 + grow - d, 0.0, 1.0);
    });
  }
  void begin(test::Window& w) {
    w.workspace().newScene({50, 50});
    w.open({twoDiscs()});
    w.goTo(test::kCutOut);
  }
  static int maskAt(const scene::Layer& l, int x, int y) {
    return int(*test::must(image::read8(l.mask.coverage, 0, {x, y, 1, 1})).at(0, 0));
  }

 private slots:
  void eachSubjectBecomesALayer() {
    test::Window w;
    begin(w);
    const auto before = w.scene().layers.size();
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), discs(3), "two discs"});
    w.openPage("kept");
    w.click(QStringLiteral("A layer for each subject"));
    QCOMPARE(w.scene().layers.size(), before + 2);
    QVERIFY(w.scene().layers[0]->hidden);
    const scene::Layer &left = *w.scene().layers[1], &right = *w.scene().layers[2];
    QCOMPARE(left.picture()->source.stamp(), w.scene().layers[0]->picture()->source.stamp());
    QVERIFY(maskAt(left, 110, 150) > 250 && maskAt(left, 290, 150) == 0);
    QVERIFY(maskAt(right, 290, 150) > 250 && maskAt(right, 110, 150) == 0);
    QCOMPARE(maskAt(left, 20, 20), 0);
    QVERIFY(!left.picture()->cutout->clean.isNull());
    w.desk().session.undo();
    w.settle();
    QCOMPARE(w.scene().layers.size(), before);
    QVERIFY(!w.scene().layers[0]->hidden);
  }
  void whatWasLostAndGainedAndTheInverseWarp() {
    test::Window w;
    begin(w);
    const auto id = w.desk().session.active();
    const auto source = w.desk().session.activeLayer()->picture()->source;
    w.desk().session.apply(scene::SetCut{id, discs(0), source, discs(0), "{}"});
    w.desk().session.apply(scene::SetCut{id, discs(4), source, discs(4), "{}"});
    w.openPage("earlier");
    auto* which = w.find<QComboBox>(QStringLiteral("The earlier cut"));
    QCOMPARE(which->count(), 1);
    const QString words = w.find<QLabel>(QStringLiteral("What was lost and gained"))->text();
    // Rings of 4 px round 60 and 50 px: 2π·(62 + 52)·4 = 2865 px².
    const auto gained = QRegularExpression(QStringLiteral("in all: lost 0.0 px², gained (\\d+) px²")).match(words);
    QVERIFY2(gained.hasMatch() && std::abs(gained.captured(1).toInt() - 2865) < 30, qPrintable(words));
    w.click(QStringLiteral("Take all of it back"));
    QVERIFY(image::differenceOf(w.desk().session.activeLayer()->picture()->cutout->alpha, discs(0)).empty());
    QVERIFY(image::differenceOf(w.desk().session.activeLayer()->mask.coverage, discs(0)).empty());
    w.desk().session.undo();
    w.settle();
    QVERIFY(image::differenceOf(w.desk().session.activeLayer()->mask.coverage, discs(4)).empty());
  }
  void aPictureThatIsUsedTwiceIsReplacedInBothPlaces() {
    test::Window w;
    begin(w);
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), discs(3), "two discs"});
    w.openPage("kept");
    w.click(QStringLiteral("A layer for each subject"));
    const image::TiledImage mask = w.scene().layers[1]->mask.coverage;
    const QString other = dir_.filePath(QStringLiteral("other.png"));
    test::must(image::writeTiled(other.toStdString(),
                                 test::picture(400, 300, 3, [](int x, int, int c) { return 40 + 50 * c + x % 7; })));
    w.workspace().replaceActive(other);
    w.settle();
    for (const auto& l : w.scene().layers) QCOMPARE(l->picture()->sourceName, std::string("other.png"));
    QVERIFY(image::differenceOf(w.scene().layers[1]->mask.coverage, mask).empty());
    w.desk().session.undo();
    w.settle();
    QCOMPARE(w.scene().layers[2]->picture()->sourceName, std::string("two.png"));
  }
  void whatIsThereSoFarBecomesAPictureOverIt() {
    test::Window w;
    begin(w);
    w.goTo(test::kMatch);
    w.openPage("group");
    w.click(QStringLiteral("Merged so far"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    const auto& below = w.scene().layers[0]->picture()->source;
    const auto& made = w.scene().layers[1]->picture()->source;
    QVERIFY(made.size() == w.scene().canvas);
    QCOMPARE(int(test::must(image::read8(made, 0, {110, 150, 1, 1})).at(0, 0)[2]),
             int(test::must(image::read8(below, 0, {110, 150, 1, 1})).at(0, 0)[2]));
    w.goTo(test::kPlace);
    w.openPage("guides");
    w.click(QStringLiteral("Thirds"));
    QCOMPARE(w.scene().guides.size(), std::size_t(4));
    QCOMPARE(w.scene().guides[1].at, 100.0);
  }
  void theSubjectsOwnColoursAreFoundAnewInAnotherPicture() {
    test::Window w;
    begin(w);
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), discs(3), "two discs"});
    w.openPage("solve");
    w.click(QStringLiteral("Solve"));
    const QString brighter = dir_.filePath(QStringLiteral("brighter.png"));
    const auto picture = test::picture(400, 300, 3, [](int x, int y, int c) {
      const double d = std::min(std::hypot(x - 110.0, y - 150.0) - 60, std::hypot(x - 290.0, y - 150.0) - 50);
      const double a = std::clamp(0.5 - d, 0.0, 1.0), paper[3] = {236, 234, 228}, felt[3] = {150, 90, 40};
      return paper[c] + a * (felt[c] - paper[c]);
    });
    test::must(image::writeTiled(brighter.toStdString(), picture));
    w.workspace().replaceActive(brighter);
    w.settle();
    const auto* p = w.desk().session.activeLayer()->picture();
    QVERIFY(!p->cutout->clean.isNull());
    // At the rim the paper is gone from the new picture's colours: the felt's red, not the paper's blue.
    const auto rim = test::must(image::read8(p->cutout->clean, 0, {110, 90, 1, 1}));
    QVERIFY2(rim.at(0, 0)[2] < 90, qPrintable(QString::number(rim.at(0, 0)[2])));
  }
};

HSEAM_TEST(SeveralSubjectsTest);
#include "several_subjects_test.moc"
