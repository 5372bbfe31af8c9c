// A place kept on the shelf in one project, and put behind a subject in another.

#include <QComboBox>
#include <QDir>
#include <QListWidget>
#include <QPushButton>

#include "app/stations/shelf_folder.h"
#include "app/two_pictures.h"

using namespace hseam;

class ShelfInTheWindowTest : public test::TwoPictures {
  Q_OBJECT

 private slots:
  void init() { QDir(QString::fromStdString(app::ownShelf().folder())).removeRecursively(); }
  void aPlaceIsKeptAndComesBackInAnotherProject() {
    {
      test::Window w;
      begin(w);
      w.choose(QStringLiteral("ground"));
      scene::Permission note;
      note.who = "nobody";
      note.nobodySeen = true;
      w.desk().session.apply(scene::SetPermission{w.desk().session.active(), note});
      w.goTo(test::kGather);
      w.openPage("shelf");
      w.find<QComboBox>(QStringLiteral("What the active picture is good for"))->setCurrentIndex(0);
      w.click(QStringLiteral("Keep the active picture"));
      w.workspace().document().flush();
      w.settle();
      QTRY_COMPARE(app::ownShelf().list().items.size(), std::size_t(1));
      const store::ShelfItem item = app::ownShelf().list().items.front();
      QVERIFY(item.name == "ground" && item.permission && item.permission->nobodySeen);
      // The file as it came, byte for byte.
      QFile kept(QString::fromStdString(item.file)), source(small_.ground);
      QVERIFY(kept.open(QIODevice::ReadOnly) && source.open(QIODevice::ReadOnly));
      QCOMPARE(kept.readAll(), source.readAll());
    }
    {
      test::Window w;
      w.open({small_.subject});
      w.goTo(test::kGather);
      w.openPage("shelf");
      auto* list = w.find<QListWidget>(QStringLiteral("The shelf"));
      QCOMPARE(list->count(), 1);
      list->setFocus();
      QTest::keyClick(list, Qt::Key_Return);
      w.settle();
      QTRY_COMPARE(w.scene().layers.size(), std::size_t(2));
      QVERIFY(layer(w, "ground").picture()->permission->nobodySeen);
      w.desk().session.undo();
      // Behind the subject in one step.
      w.choose(QStringLiteral("subject"));
      w.goTo(test::kPlace);
      w.openPage("another-background");
      auto* box = w.find<QComboBox>(QStringLiteral("The other background"));
      QCOMPARE(box->count(), 1);
      QVERIFY(box->itemText(0).contains(QStringLiteral("shelf")));
      const int before = w.desk().session.history().current();
      w.click(QStringLiteral("Put it behind"));
      QTRY_VERIFY(w.desk().session.history().current() == before + 1);
      w.settle();
      QVERIFY(w.scene().layers.size() >= 2 && w.scene().layers.front()->name == "ground");
      w.desk().session.undo();
      QCOMPARE(w.scene().layers.size(), std::size_t(1));
      // Off the shelf; nothing is left of it there.
      w.goTo(test::kGather);
      w.openPage("shelf");
      w.click(QStringLiteral("Take it off"));
      QVERIFY(app::ownShelf().list().items.empty());
    }
  }
  void whatIsSetTogetherFromFramesIsKeptAsItIsSeen() {
    test::Window w;
    w.open({small_.ground});
    // The file in the project is that of the base alone.
    scene::FrameSet set;
    const auto& p = *w.scene().layers[0]->picture();
    QVERIFY(!p.sourceHash.empty());
    set.frames = {{"a", p.source}, {"b", p.source}};
    const base::Size size = p.source.size();
    const auto made = test::picture(size.width, size.height, 3, [](int x, int, int) { return x % 256; });
    w.desk().session.apply(
        scene::SetFrames{w.desk().session.active(), std::make_shared<const scene::FrameSet>(set), made, "set"});
    w.goTo(test::kGather);
    w.openPage("shelf");
    w.click(QStringLiteral("Keep the active picture"));
    QTRY_COMPARE(app::ownShelf().list().items.size(), std::size_t(1));
    const auto kept = test::must(image::readPicture(app::ownShelf().list().items[0].file, test::memory(), test::here(), {}));
    QCOMPARE(int(test::must(image::read8(kept.pixels, 0, {200, 5, 1, 1})).at(0, 0)[0]), 200);
  }
};

HSEAM_TEST(ShelfInTheWindowTest);
#include "shelf_in_the_window_test.moc"
