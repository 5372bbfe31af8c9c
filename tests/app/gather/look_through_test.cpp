#include "app/stations/gather/look_through.h"

#include <QComboBox>
#include <QListView>

#include "app/contact/contact_sheet.h"
#include "app/contact/picture_panes.h"
#include "app/window.h"
#include "test_main.h"

using namespace hseam;
using image::Rating;

class LookThroughTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  QString at(const QString& name) const { return dir_.filePath(name); }
  Rating ratingOf(const char* name) const { return image::ratingOf(at(QLatin1String(name)).toStdString()); }
  static void until(const std::function<bool()>& done) {
    QElapsedTimer clock;
    clock.start();
    while (!done() && clock.elapsed() < 60'000) QTest::qWait(20);
  }

 private slots:
  void initTestCase() {
    for (int i = 0; i < 30; ++i)
      test::must(
          image::writeTiled(at(QStringLiteral("shot%1.jpg").arg(i, 2, 10, QLatin1Char('0'))).toStdString(),
                            test::picture(300, 200, 3, [i](int x, int y, int c) { return (x + y * 2 + c * 40 + i * 8) % 256; })));
    for (int i = 0; i < 4; ++i) {
      QFile broken(at(QStringLiteral("torn%1.jpg").arg(i)));
      QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("\xff\xd8\xff nothing more") > 0);
    }
  }
  void aFolderIsCulledByKey() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.goTo(test::kGather);
    w.openPage("look-through");
    QVERIFY(w.canvas().isVisible());
    auto* page = w->findChild<app::LookThrough*>();
    app::ContactSheet& sheet = page->sheet();
    app::FolderModel& model = sheet.model();
    page->open(dir_.path());
    w.settle();
    QVERIFY(sheet.isVisible() && !w.canvas().isVisible());
    QCOMPARE(model.rowCount(), 34);
    for (int row = 0; row < model.rowCount(); ++row) (void)model.data(model.index(row), Qt::DecorationRole);
    until([&] { return model.waiting() == 0; });
    QCOMPARE(model.data(model.index(0), Qt::DecorationRole).value<QImage>().width(), 160);
    // A broken one says so in its place.
    QVERIFY(model.data(model.index(31), Qt::DecorationRole).value<QImage>().isNull());
    QVERIFY(!model.data(model.index(31), app::FolderModel::kProblem).toString().isEmpty());

    QListView& list = sheet.list();
    list.setFocus();
    list.setCurrentIndex(model.index(0));
    for (const auto key : {Qt::Key_Plus, Qt::Key_Minus, Qt::Key_Period, Qt::Key_Plus}) QTest::keyClick(&list, key);
    QVERIFY(ratingOf("shot00.jpg") == Rating::keep && ratingOf("shot01.jpg") == Rating::out);
    QVERIFY(ratingOf("shot02.jpg") == Rating::perhaps && ratingOf("shot03.jpg") == Rating::keep);
    QCOMPARE(list.currentIndex().row(), 4);
    w.settle();
    QVERIFY(w.labelThatBegins(QStringLiteral("34 pictures: 2 kept, 1 perhaps, 1 out")));

    // Large: zoom and place stay from one to the next; rating leads on.
    list.setCurrentIndex(model.index(3));
    QTest::keyClick(&list, Qt::Key_Return);
    QVERIFY(sheet.looksAtLarge());
    sheet.panes().setZoom(4, {0.3, 0.6});
    QTest::keyClick(&sheet.panes(), Qt::Key_Right);
    QCOMPARE(sheet.panes().paths(), QStringList{model.path(4)});
    QCOMPARE(sheet.panes().zoom(), 4.0);
    QCOMPARE(sheet.panes().middle(), QPointF(0.3, 0.6));
    QTest::keyClick(&sheet.panes(), Qt::Key_Minus);
    QVERIFY(ratingOf("shot04.jpg") == Rating::out);
    QCOMPARE(sheet.panes().paths(), QStringList{model.path(5)});
    until([&] { return sheet.panes().settled(); });
    QTest::keyClick(&sheet.panes(), Qt::Key_Escape);
    QVERIFY(!sheet.looksAtLarge());
    // Taken back; then two beside one another.
    list.setCurrentIndex(model.index(4));
    QTest::keyClick(&list, Qt::Key_Backspace);
    QVERIFY(ratingOf("shot04.jpg") == Rating::none);
    list.selectionModel()->select(model.index(7), QItemSelectionModel::Select);
    w.click(QStringLiteral("Look at it large"));
    QCOMPARE(sheet.panes().paths().size(), 2);
    w.click(QStringLiteral("Back to the small pictures"));

    // Only what is kept, and that into the scene.
    w.find<QComboBox>(QStringLiteral("Which pictures are shown"))->setCurrentIndex(1);
    QCOMPARE(model.rowCount(), 2);
    list.selectAll();
    w.click(QStringLiteral("Add to the scene"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(w.canvas().isVisible());
  }
  void aFolderThatFillsIsFollowed() {
    const QTemporaryDir folder;
    test::Window w;
    w.goTo(test::kGather);
    w.openPage("look-through");
    auto* page = w->findChild<app::LookThrough*>();
    page->open(folder.path());
    QCOMPARE(page->sheet().model().count(), 0);
    QVERIFY(QFile::copy(at(QStringLiteral("shot05.jpg")), folder.filePath(QStringLiteral("new.jpg"))));
    until([&] { return page->sheet().model().count() == 1; });
    QCOMPARE(page->sheet().model().count(), 1);
    QVERIFY(QFile::remove(folder.filePath(QStringLiteral("new.jpg"))));
    until([&] { return page->sheet().model().count() == 0; });
    QCOMPARE(page->sheet().model().count(), 0);
  }
  void ratingsThatCannotBeWrittenAreTold() {
    const QTemporaryDir folder;
    QVERIFY(QFile::copy(at(QStringLiteral("shot05.jpg")), folder.filePath(QStringLiteral("a.jpg"))));
    QFile letter(folder.filePath(QStringLiteral("a.jpg.xmp")));
    QVERIFY(letter.open(QIODevice::WriteOnly) && letter.write("a letter") > 0);
    letter.close();
    app::FolderModel model;
    model.open(folder.path());
    QVERIFY(!model.rate(model.index(0), Rating::keep).isEmpty());
    QCOMPARE(model.count(Rating::keep), 0);
  }
};
HSEAM_TEST(LookThroughTest);
#include "look_through_test.moc"
