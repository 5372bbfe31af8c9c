// What hseam export does where a permission has lapsed, or minors are seen.

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonObject>

#include "cli/files.h"

using namespace hseam;

using test::hseamCommand;

class PermissionCommandTest : public test::CliFiles {
  Q_OBJECT

  QString projectWith(const QByteArray& permission) {
    const QString project = at(QStringLiteral("p.hseam"));
    text(QStringLiteral("noted.json"), R"({"canvas": {"width": 300, "height": 240}, "layers": [
      {"name": "children", "image": "disc.png", "permission": )" +
                                           permission + "}]}");
    if (hseamCommand({QStringLiteral("new"), project, QStringLiteral("--scene"), at(QStringLiteral("noted.json")),
                      QStringLiteral("--force")})
            .code != 0)
      qFatal("no project");
    return project;
  }

 private slots:
  void minorsAndLapsedPermissionsAreAskedAbout_data() {
    QTest::addColumn<QByteArray>("permission");
    QTest::addColumn<QByteArray>("says");
    QTest::newRow("minors") << QByteArray(R"({"who": "two children", "minors": true})") << QByteArray("minors are seen in it");
    QTest::newRow("lapsed") << QByteArray(R"({"who": "the keeper", "until": "2020-02-29"})") << QByteArray("2020-02-29");
  }
  void minorsAndLapsedPermissionsAreAskedAbout() {
    QFETCH(QByteArray, permission);
    QFETCH(QByteArray, says);
    const QString project = projectWith(permission), out = at(QStringLiteral("out.png"));
    QStringList export_{QStringLiteral("export"), project, QStringLiteral("--out"), out, QStringLiteral("--json")};
    const auto refused = hseamCommand(export_);
    QVERIFY(refused.code == 1 && refused.err.contains(says));
    QVERIFY(!QFileInfo::exists(out));
    // Looking at it is not handing it over.
    QCOMPARE(hseamCommand({QStringLiteral("render"), project, QStringLiteral("--out"), at(QStringLiteral("look.png"))}).code, 0);
    const auto answered = hseamCommand(export_ << QStringLiteral("--permitted"));
    QVERIFY2(answered.code == 0, answered.err.constData());
    QVERIFY(answered.json()[QStringLiteral("warnings")].toArray()[0].toString().contains(QString::fromUtf8(says)));
    QFile::remove(out);
  }
  void aMissingNoteIsAWarning() {
    const QString project = at(QStringLiteral("q.hseam"));
    QCOMPARE(hseamCommand({QStringLiteral("new"), project, QStringLiteral("--scene"), at(QStringLiteral("scene.json"))}).code, 0);
    const auto told = hseamCommand(
        {QStringLiteral("export"), project, QStringLiteral("--out"), at(QStringLiteral("q.png")), QStringLiteral("--json")});
    QCOMPARE(told.code, 0);
    QCOMPARE(told.json()[QStringLiteral("warnings")].toArray().size(), 2);
  }
};

HSEAM_TEST(PermissionCommandTest);
#include "permission_test.moc"
