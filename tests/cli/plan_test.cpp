// hseam plan as a user runs it.

#include <QJsonArray>
#include <QJsonObject>

#include "cli/files.h"

using namespace hseam;

using test::hseamCommand;

class PlanCommandTest : public test::CliFiles {
  Q_OBJECT

 private slots:
  void theListIsToldAndWritten() {
    const QString project = at(QStringLiteral("p.hseam"));
    QCOMPARE(hseamCommand({QStringLiteral("new"), project, QStringLiteral("--scene"), at(QStringLiteral("scene.json"))}).code, 0);
    const auto told = hseamCommand(
        {QStringLiteral("plan"), project, QStringLiteral("--json"), QStringLiteral("--out"), at(QStringLiteral("shots.html"))});
    QVERIFY2(told.code == 0, told.err.constData());
    const QJsonArray shots = told.json()[QStringLiteral("shots")].toArray();
    QVERIFY(shots.size() == 2 && shots[0].toObject()[QStringLiteral("place")].toBool());
    QVERIFY(!told.json()[QStringLiteral("floor_set")].toBool());
    QFile page(at(QStringLiteral("shots.html")));
    QVERIFY(page.open(QIODevice::ReadOnly) && page.readAll().contains("front"));
    const auto wrong = hseamCommand({QStringLiteral("plan"), project, QStringLiteral("--out"), at(QStringLiteral("shots.doc"))});
    QVERIFY(wrong.code == 1 && wrong.err.contains(".html or .txt"));
  }
};

HSEAM_TEST(PlanCommandTest);
#include "plan_test.moc"
