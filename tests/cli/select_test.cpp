// hseam select as a user runs it.

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include "cli/files.h"
#include "cli/ran.h"
#include "core/image/picture_file.h"
#include "core/image/transfer.h"
#include "core/scene/adjustment_kinds.h"
#include "core/store/project_file.h"
#include "pictures.h"

using namespace hseam;

using test::hseamCommand;
using test::Ran;

class SelectCommandTest : public test::CliFiles {
  Q_OBJECT

 private slots:
  void selectFindsTheDisc() {
    const Ran r = hseamCommand({QStringLiteral("select"), at(QStringLiteral("disc.png")), QStringLiteral("--subject"),
                                QStringLiteral("--box"), QStringLiteral("50,20,200,200"), QStringLiteral("--out"),
                                at(QStringLiteral("sel.png"))});
    QVERIFY2(r.code == 0, r.err.constData());
    const auto s = test::must(
        image::read8(test::must(image::readCoverage(at(QStringLiteral("sel.png")).toStdString(), test::memory(), test::here())),
                     0, {0, 0, 300, 240}));
    QVERIFY(*s.at(150, 120) > 240 && *s.at(150, 60) > 240 && *s.at(20, 20) < 10);
  }
  // A click takes the candidate it falls on; where there is none, that is said.
  void aClickChoosesAmongWhatIsSeen() {
    const QString dir = at(QStringLiteral("seen"));
    const auto chosen = [&](const char* where) {
      return hseamCommand({"select", at(QStringLiteral("disc.png")), "--subject", "--at", where, "--candidates", dir, "--out",
                           at(QStringLiteral("at.png")), "--json"});
    };
    const Ran r = chosen("150,120");
    QVERIFY2(r.code == 0, r.err.constData());
    const QJsonArray seen = r.json()["candidates"].toArray();
    QVERIFY(!seen.isEmpty());
    for (const auto& c : seen) {
      QVERIFY(!c.toObject()["what"].toString().isEmpty());
      const auto one =
          test::must(image::readCoverage(c.toObject()["file"].toString().toStdString(), test::memory(), test::here()));
      QCOMPARE(one.size(), (base::Size{300, 240}));
    }
    QVERIFY(QFile::exists(dir + QStringLiteral("/1.png")));
    const auto own = test::must(image::readCoverage(at(QStringLiteral("at.png")).toStdString(), test::memory(), test::here()));
    QVERIFY(*test::must(image::read8(own, 0, {150, 120, 1, 1})).at(0, 0) > 250);
    const Ran nothing = chosen("4,4");
    QVERIFY2(nothing.code == 1 && nothing.err.contains("4,4"), nothing.err.constData());
    const Ran outside = chosen("400,4");
    QVERIFY(outside.code == 1 && outside.err.contains("there is no pixel"));
  }
  void selectByColourStaysWithWhatHangsTogether() {
    // Two squares of one colour; the right one is reached only when it is asked for.
    write(QStringLiteral("squares.png"), test::picture(120, 60, 3, [](int x, int y, int c) {
            const bool in = y >= 20 && y < 40 && ((x >= 20 && x < 40) || (x >= 80 && x < 100));
            return in ? (c == 0 ? 200 : 60) : 150;
          }));
    const auto chosen = [&](bool everywhere) {
      QStringList words = {QStringLiteral("select"), at(QStringLiteral("squares.png")), QStringLiteral("--colour"),
                           QStringLiteral("30,30"),  QStringLiteral("--reach"),         QStringLiteral("8"),
                           QStringLiteral("--out"),  at(QStringLiteral("colour.png"))};
      if (everywhere) words << QStringLiteral("--everywhere");
      const Ran r = hseamCommand(words);
      QTest::qVerify(r.code == 0, "exit", r.err.constData(), __FILE__, __LINE__);
      return read8(QStringLiteral("colour.png"));
    };
    const auto near = chosen(false), all = chosen(true);
    QVERIFY(*near.at(30, 30) == 255 && *near.at(90, 30) == 0 && *near.at(60, 30) == 0);
    QVERIFY(*all.at(30, 30) == 255 && *all.at(90, 30) == 255 && *all.at(60, 30) == 0);
    const Ran outside = hseamCommand({QStringLiteral("select"), at(QStringLiteral("squares.png")), QStringLiteral("--colour"),
                                      QStringLiteral("300,30"), QStringLiteral("--out"), at(QStringLiteral("no.png"))});
    QVERIFY(outside.code == 1 && outside.err.contains("300,30"));
    // Two ways at once, or none, is wrong usage.
    QCOMPARE(
        hseamCommand({QStringLiteral("select"), at(QStringLiteral("squares.png")), QStringLiteral("--subject"),
                      QStringLiteral("--colour"), QStringLiteral("3,3"), QStringLiteral("--out"), at(QStringLiteral("no.png"))})
            .code,
        2);
    QCOMPARE(hseamCommand({QStringLiteral("select"), at(QStringLiteral("squares.png")), QStringLiteral("--out"),
                           at(QStringLiteral("no.png"))})
                 .code,
             2);
  }
  void selectByPathCoversExactAreas() {
    QFile svg(at(QStringLiteral("box.svg")));
    QVERIFY(svg.open(QIODevice::WriteOnly));
    svg.write("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"300\" height=\"240\"><path d=\"M10 20H60.5V70.25H10Z\"/></svg>");
    svg.close();
    const Ran r = hseamCommand({QStringLiteral("select"), at(QStringLiteral("disc.png")), QStringLiteral("--path"),
                                at(QStringLiteral("box.svg")), QStringLiteral("--out"), at(QStringLiteral("path.png"))});
    QVERIFY2(r.code == 0, r.err.constData());
    const auto s = read8(QStringLiteral("path.png"));
    QCOMPARE(int(*s.at(30, 40)), 255);
    QCOMPARE(int(*s.at(61, 40)), 0);
    QVERIFY(std::abs(int(*s.at(60, 40)) - 128) <= 1 && std::abs(int(*s.at(30, 70)) - 64) <= 1);
  }
  void hintsOfOtherValuesAreAMistake() {
    write(QStringLiteral("hints.png"), test::picture(300, 240, 1, [](int x, int, int) { return x == 7 ? 100 : 0; }));
    const Ran r = hseamCommand({QStringLiteral("select"), at(QStringLiteral("disc.png")), QStringLiteral("--subject"),
                                QStringLiteral("--hints"), at(QStringLiteral("hints.png")), QStringLiteral("--out"),
                                at(QStringLiteral("sel2.png"))});
    QCOMPARE(r.code, 1);
    QVERIFY(r.err.contains("100"));
  }
};

HSEAM_TEST(SelectCommandTest);
#include "select_test.moc"
