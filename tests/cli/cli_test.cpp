// hseam as a user runs it: exit codes, JSON, files.

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>

#include "cli/files.h"
#include "core/image/picture_file.h"
#include "core/image/transfer.h"
#include "core/scene/adjustment_kinds.h"
#include "core/store/project_file.h"
#include "pictures.h"

using namespace hseam;

using test::hseamCommand;
using test::Ran;

class CliTest : public test::CliFiles {
  Q_OBJECT

 private slots:
  void wrongUsageIsTwo() {
    QCOMPARE(hseamCommand({}).code, 2);
    QCOMPARE(hseamCommand({QStringLiteral("polish")}).code, 2);
    QCOMPARE(hseamCommand({QStringLiteral("matte"), at(QStringLiteral("disc.png"))}).code, 2);  // no trimap
    QCOMPARE(hseamCommand({QStringLiteral("--help")}).code, 0);
    for (const char* c : {"matte", "cut", "select", "new", "info", "render", "export"}) {
      const Ran r = hseamCommand({QLatin1String(c), QStringLiteral("--help")});
      QVERIFY(r.code == 0 && r.out.size() > 100);
    }
  }
  void matteWritesAlphaColoursAndFigures() {
    const Ran r = hseamCommand({QStringLiteral("matte"), at(QStringLiteral("disc.png")), QStringLiteral("--trimap"),
                                at(QStringLiteral("trimap.png")), QStringLiteral("--alpha"), at(QStringLiteral("alpha.png")),
                                QStringLiteral("--foreground"), at(QStringLiteral("fg.png")), QStringLiteral("--cutout"),
                                at(QStringLiteral("cut.png")), QStringLiteral("--json")});
    QVERIFY2(r.code == 0, r.err.constData());
    QVERIFY(r.json()[QStringLiteral("work_s")].toDouble() > 0);
    QVERIFY(std::abs(r.json()[QStringLiteral("undecided_share")].toDouble() - M_PI * (90 * 90 - 70 * 70) / (300 * 240)) < 0.005);
    const auto alpha =
        test::must(image::readCoverage(at(QStringLiteral("alpha.png")).toStdString(), test::memory(), test::here()));
    QCOMPARE(alpha.format(), image::PixelFormat::grey16);
    const auto a = test::must(image::readFloat(alpha, 0, {0, 0, 300, 240}));
    double worst = 0;
    for (int x = 0; x < 300; ++x)
      worst = std::max(worst, std::abs(double(*a.at(x, 120)) - std::clamp(80 - std::abs(x - 150.0) + 0.5, 0.0, 1.0)));
    QVERIFY2(worst < 0.12, qPrintable(QString::number(worst)));
    const auto cut =
        test::must(image::readPicture(at(QStringLiteral("cut.png")).toStdString(), test::memory(), test::here(), {}));
    QCOMPARE(cut.pixels.format(), image::PixelFormat::rgba8);
  }
  // Twice the light, a little warmer, is told as that.
  void twoPicturesOfOnePlaceAreHeldAgainstEachOther() {
    const auto light = [](double gain, double red) {
      return test::picture(300, 240, 3, [=](int x, int y, int c) {
        const double v = (0.04 + 0.16 * ((x / 20 + y / 30) % 3)) * gain * (c == 0 ? red : 1);
        return 255 * image::encodedFromLinear(std::min(1.0, v));
      });
    };
    write(QStringLiteral("first.png"), light(1, 1));
    write(QStringLiteral("second.png"), light(2, std::exp2(0.2)));
    const Ran r = hseamCommand({QStringLiteral("measure"), at(QStringLiteral("first.png")), QStringLiteral("--against"),
                                at(QStringLiteral("second.png")), QStringLiteral("--json")});
    QVERIFY2(r.code == 0, r.err.constData());
    const QJsonObject balance = r.json()[QStringLiteral("white_balance")].toObject();
    const double red = balance[QStringLiteral("red")].toObject()[QStringLiteral("value")].toDouble(-9),
                 blue = balance[QStringLiteral("blue")].toObject()[QStringLiteral("value")].toDouble(-9),
                 stops = r.json()[QStringLiteral("exposure")].toObject()[QStringLiteral("value")].toDouble(-9);
    QVERIFY2(std::abs(red - 0.2) < 0.02 && std::abs(blue) < 0.02, qPrintable(QStringLiteral("%1 %2").arg(red).arg(blue)));
    QVERIFY2(std::abs(stops - std::log2(2 * (0.2126 * std::exp2(0.2) + 0.7874))) < 0.02, qPrintable(QString::number(stops)));
    write(QStringLiteral("tiny.png"), test::picture(20, 20, 3, [](int, int, int) { return 128; }));
    const Ran other = hseamCommand({QStringLiteral("measure"), at(QStringLiteral("first.png")), QStringLiteral("--against"),
                                    at(QStringLiteral("tiny.png"))});
    QVERIFY(other.code != 0 && other.err.contains("tiny.png"));
  }
  void companionsMustFit() {
    write(QStringLiteral("small.png"), test::picture(20, 20, 1, [](int, int, int) { return 128; }));
    const Ran r = hseamCommand({QStringLiteral("matte"), at(QStringLiteral("disc.png")), QStringLiteral("--trimap"),
                                at(QStringLiteral("small.png")), QStringLiteral("--alpha"), at(QStringLiteral("no.png"))});
    QCOMPARE(r.code, 1);
    QVERIFY(r.err.contains("small.png") && r.err.count('\n') == 1);
    QVERIFY(!QFile::exists(at(QStringLiteral("no.png"))));
  }
  void cutFindsItsBandAndTellsTheEdge() {
    // Ten px too wide on one side, ten too narrow on the other: the disc has a radius of 80 about (150, 120).
    write(QStringLiteral("rough.png"),
          test::picture(300, 240, 1, [](int x, int y, int) { return std::hypot(x + 0.5 - 156, y + 0.5 - 120) < 80 ? 255 : 0; }));
    const Ran r = hseamCommand({QStringLiteral("cut"), at(QStringLiteral("disc.png")), QStringLiteral("--selection"),
                                at(QStringLiteral("rough.png")), QStringLiteral("--alpha"), at(QStringLiteral("cut-alpha.png")),
                                QStringLiteral("--band"), at(QStringLiteral("band.png")), QStringLiteral("--json")});
    QVERIFY2(r.code == 0, r.err.constData());
    const auto alpha =
        test::must(image::readCoverage(at(QStringLiteral("cut-alpha.png")).toStdString(), test::memory(), test::here()));
    const auto a = test::must(image::readFloat(alpha, 0, {0, 0, 300, 240}));
    double worst = 0;
    for (int x = 0; x < 300; ++x)
      worst = std::max(worst, std::abs(double(*a.at(x, 120)) - std::clamp(80 - std::abs(x - 150.0) + 0.5, 0.0, 1.0)));
    QVERIFY2(worst < 0.12, qPrintable(QString::number(worst)));
    const auto band = read8(QStringLiteral("band.png"));
    QVERIFY(*band.at(150, 120) == 255 && *band.at(10, 10) == 0 && *band.at(70, 120) == 128);
    const QJsonArray stretches = r.json()[QStringLiteral("stretches")].toArray();
    QVERIFY(!stretches.isEmpty());
    double length = 0;
    for (const auto& s : stretches) {
      QCOMPARE(s.toObject()[QStringLiteral("kind")].toString(), QStringLiteral("solid"));
      length += s.toObject()[QStringLiteral("length_px")].toDouble();
    }
    QVERIFY(std::abs(length - 2 * M_PI * 80) < 12);
  }
  void aProjectIsMadeToldRenderedAndHandedOver() {
    Ran r = hseamCommand({QStringLiteral("new"), at(QStringLiteral("p.hseam")), QStringLiteral("--scene"),
                          at(QStringLiteral("scene.json")), QStringLiteral("--json")});
    QVERIFY2(r.code == 0, r.err.constData());
    QCOMPARE(r.json()[QStringLiteral("layers")].toInt(), 3);
    r = hseamCommand(
        {QStringLiteral("new"), at(QStringLiteral("p.hseam")), QStringLiteral("--scene"), at(QStringLiteral("scene.json"))});
    QCOMPARE(r.code, 1);
    QVERIFY(r.err.contains("--force"));
    QCOMPARE(hseamCommand({QStringLiteral("new"), at(QStringLiteral("p.hseam")), QStringLiteral("--scene"),
                           at(QStringLiteral("scene.json")), QStringLiteral("--force")})
                 .code,
             0);
    r = hseamCommand({QStringLiteral("info"), at(QStringLiteral("p.hseam")), QStringLiteral("--json")});
    QCOMPARE(r.code, 0);
    QCOMPARE(r.json()[QStringLiteral("width")].toInt(), 400);
    QCOMPARE(r.json()[QStringLiteral("layers")].toArray().size(), 3);
    r = hseamCommand({QStringLiteral("render"), at(QStringLiteral("p.hseam")), QStringLiteral("--out"),
                      at(QStringLiteral("out.png")), QStringLiteral("--width"), QStringLiteral("200"), QStringLiteral("--json")});
    QVERIFY2(r.code == 0, r.err.constData());
    QCOMPARE(r.json()[QStringLiteral("width")].toInt(), 200);
    QCOMPARE(test::must(image::readPicture(at(QStringLiteral("out.png")).toStdString(), test::memory(), test::here(), {}))
                 .pixels.size(),
             base::Size({200, 150}));
    r = hseamCommand({QStringLiteral("export"), at(QStringLiteral("p.hseam")), QStringLiteral("--out"),
                      at(QStringLiteral("out.jpg")), QStringLiteral("--quality"), QStringLiteral("80")});
    QCOMPARE(r.code, 0);
    const qint64 heavy = QFileInfo(at(QStringLiteral("out.jpg"))).size();
    r = hseamCommand({QStringLiteral("export"), at(QStringLiteral("p.hseam")), QStringLiteral("--out"),
                      at(QStringLiteral("out.jpg")), QStringLiteral("--under-kb"), QString::number(double(heavy - 1) / 1000),
                      QStringLiteral("--weights"), QStringLiteral("--json")});
    QVERIFY2(r.code == 0, r.err.constData());
    QVERIFY(QFileInfo(at(QStringLiteral("out.jpg"))).size() < heavy && r.json()[QStringLiteral("quality")].toInt() < 80);
    QCOMPARE(r.json()[QStringLiteral("weights")].toArray().size(), 8);
    r = hseamCommand({QStringLiteral("export"), at(QStringLiteral("p.hseam")), QStringLiteral("--out"),
                      at(QStringLiteral("tiny.jpg")), QStringLiteral("--under-kb"), QStringLiteral("0.01")});
    QCOMPARE(r.code, 1);
    QVERIFY(r.err.contains("kB") && !QFileInfo::exists(at(QStringLiteral("tiny.jpg"))));
    QCOMPARE(hseamCommand({QStringLiteral("export"), at(QStringLiteral("p.hseam")), QStringLiteral("--out"),
                           at(QStringLiteral("p.hseam"))})
                 .code,
             1);
    QCOMPARE(hseamCommand({QStringLiteral("render"), at(QStringLiteral("nowhere.hseam")), QStringLiteral("--out"),
                           at(QStringLiteral("o.png"))})
                 .code,
             1);
  }
  // What is mended is one step of the project, and only what was asked for.
  void belongMendsAndKeepsIt() {
    write(QStringLiteral("specked.png"), test::picture(300, 240, 1, [](int x, int y, int) {
            const bool speck = std::hypot(x - 30.0, y - 30.0) < 4;
            return speck ? 255 : 255 * std::clamp(70 - std::hypot(x - 150.0, y - 120.0) + 0.5, 0.0, 1.0);
          }));
    text(QStringLiteral("specked.json"), R"({"canvas": {"width": 300, "height": 240}, "layers": [
      {"name": "ground", "image": "disc.png"}, {"name": "disc", "image": "disc.png", "mask": "specked.png"}]})");
    const QString project = at(QStringLiteral("specked.hseam"));
    QCOMPARE(hseamCommand({"new", project, "--scene", at(QStringLiteral("specked.json"))}).code, 0);
    const Ran done = hseamCommand({"belong", project, "--layer", "disc", "--only", "leftovers", "--json"});
    QVERIFY2(done.code == 0, done.err.constData());
    const QJsonObject layer = done.json()["layers"].toArray()[0].toObject();
    const QJsonArray steps = layer["steps"].toArray();
    QCOMPARE(steps.size(), 1);
    QCOMPARE(steps[0].toObject()["kind"].toString(), QStringLiteral("leftovers"));
    QVERIFY(steps[0].toObject()["done"].toBool());
    QVERIFY(steps[0].toObject()["before"].toDouble() > 30 && steps[0].toObject()["after"].toDouble() < 1);
    QVERIFY(layer["tightness_after"].toDouble() > layer["tightness_before"].toDouble());
    {
      const auto opened = test::must(store::ProjectFile::openToRead(project.toStdString(), test::memory(), test::here()));
      QCOMPARE(opened.history.current(), 1);
      QCOMPARE(opened.history.step(1).label, std::string("make disc belong"));
    }
    const Ran checked = hseamCommand({"check", project, "--json"});
    for (const auto& f : checked.json()["findings"].toArray()) QVERIFY(f.toObject()["kind"].toString() != "leftovers");
    // Once more there is nothing to mend, and nothing is written.
    QCOMPARE(hseamCommand({"belong", project, "--layer", "disc", "--only", "leftovers"}).code, 0);
    const auto opened = test::must(store::ProjectFile::openToRead(project.toStdString(), test::memory(), test::here()));
    QCOMPARE(opened.history.current(), 1);
    QCOMPARE(hseamCommand({"belong", project, "--only", "charm"}).code, 1);
    QCOMPARE(hseamCommand({"belong", project, "--layer", "nobody"}).code, 1);
  }
  // A faded scene is brought to the subject by a layer below it; the subject stays as it is.
  void theSceneIsBroughtToTheSubject() {
    write(QStringLiteral("hills.png"), test::picture(360, 300, 3, [](int x, int y, int c) {
            return 128 + 70 * std::sin(x / 31.0 + c) + 50 * std::cos(y / 23.0 + x / 90.0) + (x * 5 + y * 3) % 5;
          }));
    write(QStringLiteral("round.png"), test::picture(360, 300, 1, [](int x, int y, int) {
            return 255 * std::clamp(80 - std::hypot(x - 180.0, y - 150.0) + 0.5, 0.0, 1.0);
          }));
    text(QStringLiteral("faded.json"), R"({"canvas": {"width": 360, "height": 300}, "layers": [
      {"name": "hills", "image": "hills.png"}, {"name": "fading", "adjust": "levels", "out_black": 0.25},
      {"name": "piece", "image": "hills.png", "mask": "round.png"}]})");
    const QString project = at(QStringLiteral("faded.hseam"));
    QCOMPARE(hseamCommand({"new", project, "--scene", at(QStringLiteral("faded.json"))}).code, 0);
    const Ran done =
        hseamCommand({"belong", project, "--layer", "piece", "--only", "black_point", "--scene-to-subject", "--json"});
    QVERIFY2(done.code == 0, done.err.constData());
    const QJsonArray steps = done.json()["layers"].toArray()[0].toObject()["steps"].toArray();
    QVERIFY(steps.size() == 1 && steps[0].toObject()["done"].toBool());
    const auto opened = test::must(store::ProjectFile::openToRead(project.toStdString(), test::memory(), test::here()));
    const auto& layers = opened.history.scene().layers;
    QCOMPARE(layers.size(), std::size_t(4));
    QVERIFY(layers[2]->adjustment() && !layers[2]->clip);
    QCOMPARE(layers[3]->name, std::string("piece"));
    // Half as strong: the same layer at half its opacity, and the figures are those of what shows.
    const QString half = at(QStringLiteral("half.hseam"));
    QCOMPARE(hseamCommand({"new", half, "--scene", at(QStringLiteral("faded.json"))}).code, 0);
    const Ran weaker = hseamCommand(
        {"belong", half, "--layer", "piece", "--only", "black_point", "--scene-to-subject", "--strength", "0.5", "--json"});
    QVERIFY2(weaker.code == 0, weaker.err.constData());
    const auto shown = test::must(store::ProjectFile::openToRead(half.toStdString(), test::memory(), test::here()));
    QCOMPARE(shown.history.current(), 1);
    QCOMPARE(shown.history.scene().layers[2]->opacity, 0.5 * layers[2]->opacity);
    const auto after = [](const Ran& ran) {
      return ran.json()["layers"].toArray()[0].toObject()["steps"].toArray()[0].toObject()["after"].toDouble();
    };
    QVERIFY2(std::abs(after(weaker)) > std::abs(after(done)) + 1,
             qPrintable(QStringLiteral("%1 %2").arg(after(weaker)).arg(after(done))));
  }
  void threadsDoNotChangeTheBytes() {
    QCOMPARE(hseamCommand({QStringLiteral("new"), at(QStringLiteral("t.hseam")), QStringLiteral("--scene"),
                           at(QStringLiteral("scene.json")), QStringLiteral("--force")})
                 .code,
             0);
    QByteArray first;
    for (const char* n : {"1", "2", "5"}) {
      QCOMPARE(hseamCommand({QStringLiteral("--threads"), QLatin1String(n), QStringLiteral("render"),
                             at(QStringLiteral("t.hseam")), QStringLiteral("--out"), at(QStringLiteral("t.png"))})
                   .code,
               0);
      QFile f(at(QStringLiteral("t.png")));
      QVERIFY(f.open(QIODevice::ReadOnly));
      const QByteArray bytes = f.readAll();
      if (first.isEmpty()) first = bytes;
      QCOMPARE(bytes, first);
    }
  }
  // Runs a shell line with a mount of its own: even root meets a read-only folder or a full disk there.
  Ran inNamespace(const QString& line) const {
    QProcess p;
    p.start(QStringLiteral("unshare"), {QStringLiteral("-rm"), QStringLiteral("sh"), QStringLiteral("-c"), line});
    if (!p.waitForStarted() || !p.waitForFinished(60'000)) return {-1, {}, {}};
    return {p.exitCode(), p.readAllStandardOutput(), p.readAllStandardError()};
  }
  void aReadOnlyFolderIsReadAndNotWritten() {
    QVERIFY(QDir().mkpath(at(QStringLiteral("shelf"))));
    const QString shelf = at(QStringLiteral("shelf")), hseam = QStringLiteral(HSEAM_BIN "/hseam");
    const QString mounted = QStringLiteral("mount --bind '%1' '%1' && mount -o remount,bind,ro '%1' || exit 77; ").arg(shelf);
    if (inNamespace(mounted).code != 0) QSKIP("no mounts of one's own here");
    QCOMPARE(hseamCommand({QStringLiteral("new"), shelf + QStringLiteral("/p.hseam"), QStringLiteral("--scene"),
                           at(QStringLiteral("scene.json")), QStringLiteral("--force")})
                 .code,
             0);
    const Ran read = inNamespace(
        mounted + QStringLiteral("'%1' render '%2/p.hseam' --out '%3'").arg(hseam, shelf, at(QStringLiteral("from-shelf.png"))));
    QVERIFY2(read.code == 0, read.err.constData());
    const Ran write = inNamespace(mounted + QStringLiteral("'%1' render '%2/p.hseam' --out '%2/out.png'").arg(hseam, shelf));
    QCOMPARE(write.code, 1);
    QVERIFY2(write.err.contains("out.png"), write.err.constData());
    const Ran made = inNamespace(
        mounted + QStringLiteral("'%1' new '%2/q.hseam' --scene '%3'").arg(hseam, shelf, at(QStringLiteral("scene.json"))));
    QCOMPARE(made.code, 1);
    QCOMPARE(QDir(shelf).entryList(QDir::Files), QStringList{QStringLiteral("p.hseam")});
  }
  void aFullDiskIsToldAndLeavesNoHalfFile() {
    QVERIFY(QDir().mkpath(at(QStringLiteral("tight"))));
    const QString tight = at(QStringLiteral("tight")), hseam = QStringLiteral(HSEAM_BIN "/hseam");
    const QString mounted = QStringLiteral("mount -t tmpfs -o size=192k tmpfs '%1' || exit 77; ").arg(tight);
    if (inNamespace(mounted).code != 0) QSKIP("no mounts of one's own here");
    // Noise does not compress: neither the project nor any format fits into what is left. Some encoders would end the program or
    // say nothing.
    test::Noise noise(9);
    write(QStringLiteral("noise.png"), test::picture(400, 300, 3, [&](int, int, int) { return noise.below(256); }));
    text(QStringLiteral("noise.json"), R"({"canvas": {"width": 400, "height": 300}, "layers": [{"image": "noise.png"}]})");
    const QString list = QStringLiteral("; code=$?; ls -A '%1'; exit $code").arg(tight);
    const Ran made = inNamespace(
        mounted + QStringLiteral("'%1' new '%2/p.hseam' --scene '%3'").arg(hseam, tight, at(QStringLiteral("noise.json"))) +
        list);
    QCOMPARE(made.code, 1);
    QVERIFY2(made.err.contains("full"), made.err.constData());
    QVERIFY2(!made.out.contains("p.hseam\n"), made.out.constData());
    QCOMPARE(hseamCommand({QStringLiteral("new"), at(QStringLiteral("full.hseam")), QStringLiteral("--scene"),
                           at(QStringLiteral("noise.json")), QStringLiteral("--force")})
                 .code,
             0);
    for (const char* name : {"out.tif", "out.png", "out.jpg"}) {
      const Ran written = inNamespace(mounted +
                                      QStringLiteral("head -c 150000 /dev/zero > '%2/filler'; '%1' render '%3' --out '%2/%4'")
                                          .arg(hseam, tight, at(QStringLiteral("full.hseam")), QLatin1String(name)) +
                                      list);
      QCOMPARE(written.code, 1);
      QCOMPARE(written.out, QByteArray("filler\n"));
      QVERIFY2(written.err.contains(name) && written.err.contains("disk"), written.err.constData());
    }
  }
};
HSEAM_TEST(CliTest);
#include "cli_test.moc"
