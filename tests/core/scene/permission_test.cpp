#include "core/scene/permission.h"

#include "core/render/scenes.h"
#include "core/scene/edit.h"

using namespace hseam;

class PermissionTest : public QObject {
  Q_OBJECT

  static scene::Scene threePictures() {
    scene::Scene s;
    s.canvas = {20, 20};
    for (std::uint64_t id = 1; id <= 3; ++id) {
      scene::Layer l = test::pictureLayer(id, test::picture(20, 20, 3, [](int, int, int) { return 90.0; }));
      auto p = *l.picture();
      p.sourceHash = "key " + std::to_string(id);
      l.content = p;
      l.name = "picture " + std::to_string(id);
      s = test::must(scene::apply(s, scene::AddLayer{l, {}, -1}));
    }
    return s;
  }
  static scene::Scene with(const scene::Scene& s, std::uint64_t id, const scene::Permission& p) {
    return test::must(scene::apply(s, scene::SetPermission{{id}, p}));
  }

 private slots:
  void whatIsMissingLapsedOrShowsMinorsIsListed() {
    using Why = scene::UnclearPermission::Why;
    scene::Scene s = threePictures();
    QCOMPARE(scene::unclearPermissions(s, "2026-12-01").size(), std::size_t(3));
    s = with(s, 1, {"the keeper", "posters", "2026-12-01", false, false});
    s = with(s, 2, {"two children", "posters", "", true, false});
    auto list = scene::unclearPermissions(s, "2026-12-01");
    QCOMPARE(list.size(), std::size_t(2));
    QVERIFY(list[0].layer == scene::LayerId{2} && list[0].why == Why::minors && list[1].why == Why::missing);
    // Its last day counts; the day after it has lapsed.
    list = scene::unclearPermissions(s, "2026-12-02");
    QCOMPARE(list.size(), std::size_t(3));
    QVERIFY(list[0].why == Why::lapsed);
    QCOMPARE(scene::sentence(list[0]), std::string("its permission ended on 2026-12-01"));
    // What is hidden does not go out; what was made in the scene is nobody's.
    s = test::must(scene::apply(s, scene::SetHidden{{3}, true}));
    s = test::must(scene::apply(
        s, scene::AddLayer{test::pictureLayer(4, test::picture(20, 20, 3, [](int, int, int) { return 9.0; })), {}, -1}));
    QCOMPARE(scene::unclearPermissions(s, "2026-12-01").size(), std::size_t(1));
    scene::Permission nobody;
    nobody.nobodySeen = true;
    QVERIFY(scene::unclearPermissions(with(s, 2, nobody), "2026-12-01").empty());
  }
  void whatIsMergedKeepsTheStricterNote() {
    scene::Scene s = threePictures();
    QVERIFY(!scene::combinedPermission(s));
    s = with(s, 1, {"the keeper", "posters", "2027-12-01", false, false});
    s = with(s, 2, {"two children", "posters", "2026-06-30", true, false});
    const auto both = scene::combinedPermission(s);
    QVERIFY(both && both->minors && both->who == "the keeper, two children" && both->what == "posters");
    QCOMPARE(both->until, std::string("2026-06-30"));
    s = test::must(scene::apply(s, scene::SetHidden{{2}, true}));
    QVERIFY(!scene::combinedPermission(s)->minors);
    // A name within another one is another person.
    s = with(s, 3, {"keeper", "posters", "", false, false});
    QCOMPARE(scene::combinedPermission(s)->who, std::string("the keeper, keeper"));
  }
  void onlyWhatIsKnownStandsAgainstHandingOver() {
    scene::Scene s = threePictures();
    s = with(s, 1, {"the keeper", "posters", "2026-06-30", false, false});
    s = with(s, 2, {"two children", "posters", "", true, false});
    const auto against = scene::standAgainst(scene::unclearPermissions(s, "2026-12-01"));
    QCOMPARE(against.size(), std::size_t(2));
    QCOMPARE(scene::sentences(against, "; "),
             std::string("picture 1: its permission ended on 2026-06-30; picture 2: minors are seen in it"));
  }
  void aDayMustBeOne_data() {
    QTest::addColumn<QString>("day");
    QTest::addColumn<bool>("valid");
    QTest::newRow("without end") << QString() << true;
    QTest::newRow("a day") << QStringLiteral("2028-02-29") << true;
    QTest::newRow("no such day") << QStringLiteral("2027-02-29") << false;
    QTest::newRow("the other way round") << QStringLiteral("31-05-2027") << false;
    QTest::newRow("a word") << QStringLiteral("next year!") << false;
    QTest::newRow("more after it") << QStringLiteral("2027-05-3x") << false;
  }
  void aDayMustBeOne() {
    QFETCH(QString, day);
    QFETCH(bool, valid);
    scene::Permission p;
    p.until = day.toStdString();
    QCOMPARE(scene::validPermission(p).ok(), valid);
    QCOMPARE(scene::apply(threePictures(), scene::SetPermission{{1}, p}).ok(), valid);
  }
};

HSEAM_TEST(PermissionTest);
#include "permission_test.moc"
