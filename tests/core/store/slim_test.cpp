#include "core/store/slim.h"

#include <zip.h>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>

#include "../render/scenes.h"

using namespace hseam;
using namespace hseam::store;

class SlimTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  qint64 sizeOf(const char* name) const { return QFileInfo(dir_.filePath(QLatin1String(name))).size(); }
  std::string put(const char* name, const QByteArray& bytes) const {
    QFile f(dir_.filePath(QLatin1String(name)));
    if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size()) qFatal("cannot write");
    return at(name);
  }
  // A project with a layer that was taken out again and ten strokes of which one is left.
  ProjectFile::Opened used(const char* name, scene::Scene& current) const {
    scene::Scene s;
    s.canvas = {600, 500};
    auto opened = test::must(ProjectFile::create(at(name), s, "new", test::memory(), test::here()));
    int step = 0;
    const auto keep = [&](const scene::Edit& e) {
      s = test::must(scene::apply(s, e));
      test::must(opened.file->keep({s, scene::describe(s, e)}, scene::editKind(e), step++));
    };
    const std::string kept = test::must(opened.file->addSourceFile(put("kept.bin", QByteArray(40000, 'k'))));
    const std::string gone = test::must(opened.file->addSourceFile(put("gone.bin", QByteArray(90000, 'g'))));
    scene::Layer a = test::pictureLayer(1, test::colours(600, 500, 1)), b = test::pictureLayer(2, test::colours(600, 500, 2, 4));
    std::get<scene::PictureContent>(a.content).sourceHash = kept;
    std::get<scene::PictureContent>(b.content).sourceHash = gone;
    scene::Layer group;
    group.id = {3};
    group.name = "group";
    group.content = scene::GroupContent{{test::ref(a)}, false};
    keep(scene::AddLayer{group, {}, -1});
    keep(scene::AddLayer{b, {}, -1});
    keep(scene::RemoveLayer{{2}});
    for (int i = 0; i < 10; ++i) keep(scene::SetMask{{1}, test::disc(600, 500, 20 + i * 7), "painted"});
    keep(scene::SetOpacity{{1}, 0.5});
    current = s;
    return opened;
  }

 private slots:
  void slimmingDropsWhatIsNotShownAndSaysSo() {
    scene::Scene s;
    auto opened = used("a.hseam", s);
    const SlimReport report = test::must(slimReport(*opened.file, s));
    QCOMPARE(report.steps, 14);
    QCOMPARE(report.sources, std::vector<std::string>{"gone.bin"});
    QVERIFY(report.bytesThen < report.bytesNow / 2);
    test::must(slimTo(*opened.file, s, at("slim.hseam")));
    // What was said is what happened, but for layers' records and the file's pages.
    QVERIFY2(std::abs(sizeOf("slim.hseam") - report.bytesThen) < 60'000,
             qPrintable(QString::number(sizeOf("slim.hseam") - report.bytesThen)));
    const auto elsewhere = image::TileMemory::create(std::size_t(1) << 30);
    const auto again = test::must(ProjectFile::open(at("slim.hseam"), elsewhere, test::here()));
    QCOMPARE(again.history.count(), 1);
    QVERIFY(test::rendered(again.history.scene()).samples() == test::rendered(s).samples());
    QVERIFY(again.file->sourceFile(again.history.scene().layers[0]->group()->layers[0]->picture()->sourceHash).ok());
    // Nothing in it leads nowhere, nor does anything lie about.
    const auto contents = test::must(again.file->contents());
    QCOMPARE(contents.sources.size(), std::size_t(1));
    const SlimReport nothingLeft = test::must(slimReport(*again.file, again.history.scene()));
    QVERIFY(nothingLeft.bytesThen <= nothingLeft.bytesNow && nothingLeft.bytesNow - nothingLeft.bytesThen < 4000);  // records
    // And the project itself still has everything.
    QCOMPARE(test::must(opened.file->contents()).steps, 15);
  }
  void aSlimmedProjectGoesOn() {
    scene::Scene s;
    auto opened = used("b.hseam", s);
    test::must(slimTo(*opened.file, s, at("b-slim.hseam")));
    {
      auto again = test::must(ProjectFile::open(at("b-slim.hseam"), test::memory(), test::here()));
      const scene::Scene next = test::must(scene::apply(again.history.scene(), scene::SetOpacity{{1}, 0.9}));
      test::must(again.file->keep({next, "more"}, "SetOpacity", 0));
    }
    QCOMPARE(test::must(ProjectFile::open(at("b-slim.hseam"), test::memory(), test::here())).history.count(), 2);
  }
  void anArchiveHoldsEverything() {
    scene::Scene s;
    auto opened = used("c.hseam", s);
    test::must(archiveTo(*opened.file, at("c.zip"), {}));
    int problem = 0;
    zip_t* zip = zip_open(at("c.zip").c_str(), ZIP_RDONLY, &problem);
    QVERIFY(zip);
    const auto content = [&](const char* name) {
      QByteArray bytes;
      if (zip_file_t* f = zip_fopen(zip, name, 0)) {
        char block[4096];
        for (zip_int64_t n = 0; (n = zip_fread(f, block, sizeof block)) > 0;) bytes.append(block, n);
        zip_fclose(f);
      }
      return bytes;
    };
    QCOMPARE(content("sources/gone.bin"), QByteArray(90000, 'g'));
    QCOMPARE(content("sources/kept.bin"), QByteArray(40000, 'k'));
    QVERIFY(content("contents.json").contains("sources/kept.bin"));
    QFile f(dir_.filePath(QStringLiteral("unpacked.hseam")));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(content("c.hseam"));
    f.close();
    zip_discard(zip);
    const auto again = test::must(ProjectFile::open(at("unpacked.hseam"), test::memory(), test::here()));
    QCOMPARE(again.history.count(), 15);
    QVERIFY(!again.wasUnclean);
  }
  void aFailureLeavesWhatWasThere() {
    scene::Scene s;
    auto opened = used("d.hseam", s);
    QVERIFY(!archiveTo(*opened.file, at("no/such/folder.zip"), {}).ok());
    QVERIFY(!slimTo(*opened.file, s, at("no/such/folder.hseam")).ok());
    std::stop_source stop;
    stop.request_stop();
    put("older.zip", "older");
    QCOMPARE(archiveTo(*opened.file, at("older.zip"), base::Progress(stop.get_token())).error().code, base::Code::cancelled);
    QCOMPARE(sizeOf("older.zip"), 5);
    QCOMPARE(QDir(dir_.path()).entryList({QStringLiteral("*.part*")}, QDir::Files | QDir::Hidden).size(), 0);
  }
};
HSEAM_TEST(SlimTest);
#include "slim_test.moc"
