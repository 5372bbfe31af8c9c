// A planned scene says how its parts are to be photographed, and the list is written.

#include <QFileDialog>
#include <QLabel>
#include <QTimer>

#include "app/two_pictures.h"

using namespace hseam;

class ShootingListInTheWindowTest : public test::TwoPictures {
  Q_OBJECT

  static void nameFile(const QString& path) {
    QTimer::singleShot(0, [path] {
      auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
      if (!dialog) qFatal("no file dialog was opened");
      dialog->setDirectory(QFileInfo(path).path());
      dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"))->setText(QFileInfo(path).fileName());
      QMetaObject::invokeMethod(dialog, "accept", Qt::QueuedConnection);
    });
  }

 private slots:
  void initTestCase() { QApplication::setAttribute(Qt::AA_DontUseNativeDialogs); }
  void theListFollowsTheSceneAndIsWritten() {
    test::Window w;
    beginWith(w, test::kPlace, "shooting-list");
    auto* shown = w.find<QLabel>(QStringLiteral("The shooting list"));
    QVERIFY(shown->text().contains(QStringLiteral("Nobody has said where the floor lies")));
    QVERIFY(shown->text().contains(QStringLiteral("ground")) && shown->text().contains(QStringLiteral("subject")));
    scene::Floor floor = scene::usualFloor(w.scene().canvas);
    floor.cameraHeightM = 0.9;
    w.desk().session.apply(scene::SetFloor{floor});
    w.settle();
    QVERIFY(!shown->text().contains(QStringLiteral("Nobody has said")) &&
            shown->text().contains(QStringLiteral("camera 0.90 m high")));
    const QTemporaryDir dir;
    for (const char* name : {"shots.html", "shots.txt", "shots.pdf"}) {
      const QString path = dir.filePath(QLatin1String(name));
      nameFile(path);
      w.click(QStringLiteral("Save the list…"));
      QFile file(path);
      QVERIFY2(file.open(QIODevice::ReadOnly), name);
      const QByteArray bytes = file.readAll();
      QVERIFY2(bytes.startsWith(path.endsWith(QStringLiteral("pdf"))
                                    ? "%PDF"
                                    : (path.endsWith(QStringLiteral("html")) ? "<!DOCTYPE" : "ground")),
               name);
    }
  }
};

HSEAM_TEST(ShootingListInTheWindowTest);
#include "shooting_list_in_the_window_test.moc"
