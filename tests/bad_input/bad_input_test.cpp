#include <sys/resource.h>

#include "as_anyone.h"
#include "bad_files.h"
#include "core/store/open_raster.h"

using namespace hseam;
using base::Code;

// Every reader on files that are broken, hostile or not what they say: a clear error or a warning each, nothing else.
class BadInputTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Outcome {
    std::optional<base::Error> error;
    std::vector<std::string> warnings;
  };
  static Outcome read(const QString& path) {
    const std::string p = path.toStdString();
    if (path.endsWith(QStringLiteral(".ora"))) {
      auto r = store::readOpenRaster(p, test::memory(), test::here(), {});
      return r.ok() ? Outcome{{}, r->warnings} : Outcome{r.error(), {}};
    }
    if (path.endsWith(QStringLiteral(".hseam"))) {
      auto r = store::ProjectFile::open(p, image::TileMemory::create(64 << 20), test::here());
      return r.ok() ? Outcome{} : Outcome{r.error(), {}};
    }
    if (path.endsWith(QStringLiteral(".json"))) {
      auto r = store::readDescription(p, test::memory(), test::here(), {});
      return r.ok() ? Outcome{{}, r->warnings} : Outcome{r.error(), {}};
    }
    auto r = image::readPicture(p, test::memory(), test::here(), {});
    return r.ok() ? Outcome{{}, r->warnings} : Outcome{r.error(), {}};
  }

 private slots:
  void everyFileIsAnErrorOrAWarning_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<bool>("mayBeWhole");  // spoiled where it need not show
    const auto add = [&](const QString& name, const QByteArray& bytes, bool mayBeWhole = false) {
      QTest::newRow(qPrintable(name)) << name << bytes << mayBeWhole;
    };
    int kinds = 0;
    for (const char* e : {"jpg", "png", "tif", "webp", "exr", "dng", "ora", "hseam"}) {
      const QString ending = QString::fromLatin1(e);
      const QByteArray good = test::goodFile(ending, dir_);
      const QString at = QString::number(++kinds);
      add(QStringLiteral("empty%1.").arg(at) + ending, {});
      add(QStringLiteral("four bytes%1.").arg(at) + ending, good.left(4));
      add(QStringLiteral("quarter%1.").arg(at) + ending, good.left(good.size() / 4));
      add(QStringLiteral("half%1.").arg(at) + ending, good.left(good.size() / 2));
      add(QStringLiteral("text%1.").arg(at) + ending, "Dear reader, this is a letter and no picture at all.\n");
      QByteArray noise = good.left(16);
      test::Noise random{std::uint64_t(kinds)};
      for (int i = 0; i < 5000; ++i) noise += char(random.below(256));
      add(QStringLiteral("noise%1.").arg(at) + ending, noise);
      // Single bytes turned round all over it: it may be read, but must not do harm.
      for (int k = 0; k < 6; ++k) {
        QByteArray flipped = good;
        for (int i = 0; i < 3; ++i) flipped[random.below(int(std::min<qsizetype>(good.size(), 4000)))] = char(random.below(256));
        add(QStringLiteral("flipped %1-%2.").arg(at).arg(k) + ending, flipped, true);
      }
    }
    // Sizes beyond all limits, and data that would swell.
    const QByteArray little = qCompress(QByteArray(1000, '\0')).mid(4);
    add(QStringLiteral("hundred thousand.png"), test::png(100000, 100000, 8, 2, little));
    add(QStringLiteral("four thousand million.png"), test::png(0x7fffffffu, 0x7fffffffu, 8, 2, little));
    add(QStringLiteral("nothing wide.png"), test::png(0, 10, 8, 2, little));
    add(QStringLiteral("too little data.png"), test::png(4000, 4000, 8, 6, little));
    add(QStringLiteral("bomb.png"), test::png(64, 64, 8, 2, qCompress(QByteArray(80'000'000, '\0'), 9).mid(4)), true);
    add(QStringLiteral("odd depth.png"), test::png(30, 30, 7, 2, little));
    // What is not what its name says is read as what it is.
    add(QStringLiteral("really a jpeg.png"), test::goodFile(QStringLiteral("jpg"), dir_), true);
    // Profiles.
    QByteArray broken = test::goodFile(QStringLiteral("tif"), dir_);
    const qsizetype icc = broken.lastIndexOf("acsp");  // the writer leaves an older one behind
    if (icc < 36) qFatal("the good file has no profile");
    // Its tags lead nowhere.
    broken.replace(icc - 36 + 128, 200, QByteArray(200, '\xff'));
    add(QStringLiteral("broken profile.tif"), broken);
    test::put(dir_.filePath(QStringLiteral("ink")), {});
    inks::writeJpeg(dir_.filePath(QStringLiteral("inks.jpg")).toStdString(), 32, 32, {90, 10, 200, 0}, false);
    add(QStringLiteral("four inks.jpg"), test::get(dir_.filePath(QStringLiteral("inks.jpg"))));
    // Layered files that mean harm.
    const QByteArray layerPng = test::goodFile(QStringLiteral("png"), dir_);
    const auto ora = [&](const QByteArray& layers, const QList<std::pair<QByteArray, QByteArray>>& more = {},
                         const QByteArray& before = {}) {
      QList<std::pair<QByteArray, QByteArray>> files{
          {"mimetype", "image/openraster"},
          {"stack.xml", before + "<image w='300' h='200'><stack>" + layers + "</stack></image>"},
          {"data/a.png", layerPng}};
      files += more;
      return test::zipOf(files, dir_);
    };
    add(QStringLiteral("climbs out.ora"), ora("<layer src='../../../../etc/hostname'/>"));
    add(QStringLiteral("absolute.ora"), ora("<layer src='/etc/hostname'/>"));
    add(QStringLiteral("backslashes.ora"), ora("<layer src='..\\\\..\\\\boot.ini'/>"));
    add(QStringLiteral("missing layer.ora"), ora("<layer src='data/none.png'/>"));
    add(QStringLiteral("layer is text.ora"), ora("<layer src='data/t.png'/>", {{"data/t.png", "no picture"}}));
    add(QStringLiteral("entities.ora"),
        ora("<layer name='&c;' src='data/a.png'/>", {},
            "<!DOCTYPE x [<!ENTITY a 'aaaaaaaaaa'><!ENTITY b '&a;&a;&a;&a;'><!ENTITY c '&b;&b;&b;&b;'>]>"));
    add(QStringLiteral("deep.ora"), ora(QByteArray("<stack>").repeated(500) + QByteArray("</stack>").repeated(500)));
    add(QStringLiteral("many.ora"), ora(QByteArray("<stack/>").repeated(5000)));
    add(QStringLiteral("huge canvas.ora"), test::zipOf({{"stack.xml", "<image w='1000000' h='1000000'><stack/></image>"}}, dir_));
    add(QStringLiteral("no canvas.ora"), test::zipOf({{"stack.xml", "<image><stack/></image>"}}, dir_));
    add(QStringLiteral("no list.ora"), test::zipOf({{"mimetype", "image/openraster"}}, dir_));
    add(QStringLiteral("broken list.ora"), test::zipOf({{"stack.xml", "<image w='3' h='3'><stack>"}}, dir_));
    add(QStringLiteral("list that swells.ora"), test::zipOf({{"stack.xml", QByteArray(40'000'000, ' ')}}, dir_));
    add(QStringLiteral("strange mode.ora"), ora("<layer src='data/a.png' composite-op='elsewhere:frost'/>"));
    // Descriptions.
    add(QStringLiteral("unclosed.json"), "{\"canvas\": [100, 100], \"layers\": [");
    add(QStringLiteral("wrong types.json"), "{\"canvas\": \"large\", \"layers\": {}}");
    add(QStringLiteral("nested.json"), QByteArray("[").repeated(100000));
    add(QStringLiteral("no such picture.json"), "{\"canvas\": [100, 100], \"layers\": [{\"picture\": \"none.png\"}]}");
    add(QStringLiteral("negative canvas.json"), "{\"canvas\": [-5, 10], \"layers\": []}");
    // Projects.
    QByteArray newer = test::goodFile(QStringLiteral("hseam"), dir_);
    newer.replace(60, 4, test::bigEndian(999));  // SQLite's user_version
    add(QStringLiteral("newer.hseam"), newer);
    QByteArray foreign = test::goodFile(QStringLiteral("hseam"), dir_);
    foreign.replace(68, 4, test::bigEndian(1234));  // SQLite's application_id
    add(QStringLiteral("another program's.hseam"), foreign);
  }
  void everyFileIsAnErrorOrAWarning() {
    QFETCH(QString, name);
    QFETCH(QByteArray, bytes);
    QFETCH(bool, mayBeWhole);
    const QString path = dir_.filePath(name);
    test::put(path, bytes);
    rusage before{}, after{};
    getrusage(RUSAGE_SELF, &before);
    const Outcome o = read(path);
    getrusage(RUSAGE_SELF, &after);
    if (o.error) {
      QVERIFY2(!o.error->detail.empty() && !o.error->where.empty(), qPrintable(QString::fromStdString(o.error->text())));
      QVERIFY2(o.error->code != Code::invalid || name.endsWith(QStringLiteral("json")),
               qPrintable(QString::fromStdString(o.error->text())));
    } else {
      QVERIFY2(mayBeWhole || !o.warnings.empty(), "was read without a word");
    }
    // Looking must not cost more than a picture within the limits would.
    QVERIFY2(after.ru_maxrss - before.ru_maxrss < 700'000, qPrintable(QString::number(after.ru_maxrss - before.ru_maxrss)));
    if (!path.endsWith(QStringLiteral(".hseam"))) QCOMPARE(test::get(path), bytes);  // looked at, not touched
  }
  void foldersAndMissingFilesAreNamed() {
    QCOMPARE(read(dir_.filePath(QStringLiteral("none.png"))).error->code, Code::notFound);
    QCOMPARE(read(dir_.filePath(QStringLiteral("none.ora"))).error->code, Code::notFound);
    QCOMPARE(read(dir_.filePath(QStringLiteral("none.hseam"))).error->code, Code::notFound);
    QVERIFY(QDir(dir_.path()).mkdir(QStringLiteral("folder.png")));
    QCOMPARE(read(dir_.filePath(QStringLiteral("folder.png"))).error->code, Code::unsupported);
  }
  void namesAndFoldersThatCannotBeLookedAt_data() {
    QTest::addColumn<QString>("ending");
    for (const char* ending : {"png", "ora", "hseam", "json"}) QTest::newRow(ending) << QString::fromLatin1(ending);
  }
  void namesAndFoldersThatCannotBeLookedAt() {
    QFETCH(QString, ending);
    // Longer than any file system here takes.
    const QString longName = dir_.filePath(QString(300, QLatin1Char('n')) + QLatin1Char('.') + ending);
    const Outcome tooLong = read(longName);
    QVERIFY(tooLong.error && tooLong.error->code != Code::failed);
    const QString closed = dir_.filePath(QStringLiteral("closed"));
    QDir().mkpath(closed);
    test::put(closed + QStringLiteral("/x.") + ending, "x");
    const test::AsAnyone asAnyone;
    QFile::setPermissions(closed, QFile::Permissions());
    const Outcome noEntry = read(closed + QStringLiteral("/x.") + ending);
    QFile::setPermissions(closed, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    QVERIFY(noEntry.error && noEntry.error->code != Code::failed);
    // Writing there is an error as well.
    scene::Scene s;
    s.canvas = {20, 20};
    QVERIFY(!store::ProjectFile::create(longName.toStdString(), s, "x", test::memory(), test::here()).ok());
    QVERIFY(!image::writeTiled(dir_.filePath(QString(300, QLatin1Char('n'))).toStdString() + ".png",
                               test::picture(10, 10, 3, [](int, int, int) { return 9; }))
                 .ok());
  }
};
HSEAM_TEST(BadInputTest);
#include "bad_input_test.moc"
