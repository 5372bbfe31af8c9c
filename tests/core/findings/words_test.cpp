#include "core/findings/words.h"

#include <set>

#include "core/findings/kinds.h"
#include "core/findings/remedy_ids.h"
#include "core/scene/adjustment_kinds.h"
#include "test_main.h"

using namespace hseam;
using findings::Figure;
using findings::Says;
using findings::Words;

class WordsTest : public QObject {
  Q_OBJECT

 private slots:
  void aSentenceIsMadeOfItsValues() {
    const Words w(Says::darkestTones, std::string("fox {0}"), 12.345, Words(Says::under, 3.0), Says::theSceneAround, 15.4);
    QCOMPARE(w.text(),
             std::string("The darkest tones of fox {0} lie at L* 12.3, 3.0 L* under those of the scene around it (15.4)."));
    QCOMPARE(Words(Says::tooLightForTheDark, std::string("fox"), 9.96).text(),
             std::string(
                 "It is dark where fox stands; fox is lit as in a bright room, 10.0 L* lighter than things are in that light."));
    QCOMPARE(Words(Says::pieces, 3).text(), std::string("3 loose pieces"));
    // What another part of the program says goes through as it is.
    QCOMPARE(Words(std::string("too {few} places")).text(), std::string("too {few} places"));
  }
  void zeroHasNoSign() {
    QCOMPARE(findings::textOf(Figure{-0.04, 1}), std::string("0.0"));
    QCOMPARE(findings::textOf(Figure{-0.06, 1}), std::string("-0.1"));
    QCOMPARE(findings::textOf(Figure{1234.5, 0}), std::string("1234"));
  }
  void nothingIsEmpty() {
    QVERIFY(Words().empty() && Words().text().empty() && Words(std::string()).empty());
    QVERIFY(!Words(Says::trueSize).empty());
  }
  // As many values as a sentence has places, and no place without one.
  void everySentenceCanBeSaid() {
    const auto last = int(Says::forYouToSay);
    std::set<std::string> keys;
    for (int i = 0; i <= last; ++i) {
      Words w(Says(i), 1, 2, 3, 4, 5, 6);
      const std::string text = w.text();
      QVERIFY2(!text.empty() && text.find('{') == std::string::npos, findings::keyOf(Says(i)));
      QVERIFY(keys.insert(findings::keyOf(Says(i))).second);
    }
    QCOMPARE(int(keys.size()), last + 1);
  }
  void kindsRemediesAndAdjustmentsKeepTheirNamesInFiles() {
    for (const findings::Kind& k : findings::kinds())
      QVERIFY(findings::kindNamed(k.key) == k.id && findings::keyOf(k.id) == k.key);
    QVERIFY(!findings::kindNamed("smell"));
    QCOMPARE(std::string(findings::keyOf(findings::RemedyId::liftShadows)), std::string("lift_shadows"));
    QCOMPARE(std::string(findings::keyOf(findings::RemedyId::edgeFromInside)), std::string("edge_from_inside"));
    for (const scene::AdjustmentKind& k : scene::adjustmentKinds()) QVERIFY(scene::adjustmentNamed(k.key) == k.id);
    QVERIFY(!scene::adjustmentNamed("smell"));
  }
};

HSEAM_TEST(WordsTest);
#include "words_test.moc"
