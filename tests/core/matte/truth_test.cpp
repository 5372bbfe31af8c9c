// The solver held against rendered truth of every kind of edge.
#include <cmath>

#include "core/matte/solver.h"
#include "core/matte/trimap.h"
#include "pictures.h"
#include "truth/rendered_mattes.h"

using namespace hseam;
using truth::Ground;
using truth::Kind;
using truth::Mixing;

class TruthTest : public QObject {
  Q_OBJECT
 private slots:
  // Mean absolute error of alpha over the undecided pixels, in thousandths; the bounds leave a tenth over what is reached.
  void solvesEveryKind_data() {
    QTest::addColumn<int>("kind");
    QTest::addColumn<int>("ground");
    QTest::addColumn<bool>("inEncoded");
    QTest::addColumn<double>("worst");    // thousandths, of the equations alone
    QTest::addColumn<double>("learned");  // as the network corrects them
    const auto row = [](const char* name, Kind k, Ground g, Mixing m, double worst, double learned) {
      QTest::newRow(name) << int(k) << int(g) << (m == Mixing::encoded) << worst << learned;
    };
    row("hair over clouds", Kind::hair, Ground::clouds, Mixing::linear, 27, 28.5);
    row("hair over clouds, codes", Kind::hair, Ground::clouds, Mixing::encoded, 7, 7.5);
    row("fur over paper", Kind::fur, Ground::paper, Mixing::linear, 5.3, 7.6);
    row("leaves over clouds", Kind::lattice, Ground::clouds, Mixing::linear, 6.1, 7.8);
    row("blurred over boards", Kind::defocus, Ground::boards, Mixing::linear, 13.5, 13.5);
    row("blurred over clouds, codes", Kind::defocus, Ground::clouds, Mixing::encoded, 4.4, 4.4);
    row("moved over pebbles", Kind::motion, Ground::pebbles, Mixing::linear, 20, 20);
    row("veil over boards", Kind::veil, Ground::boards, Mixing::linear, 25.5, 25.5);
    row("crisp over clouds", Kind::solid, Ground::clouds, Mixing::linear, 3.5, 3.5);
  }
  void solvesEveryKind() {
    QFETCH(int, kind);
    QFETCH(int, ground);
    QFETCH(bool, inEncoded);
    QFETCH(double, worst);
    QFETCH(double, learned);
    truth::Description what;
    what.kind = Kind(kind), what.ground = Ground(ground), what.mixing = inEncoded ? Mixing::encoded : Mixing::linear;
    what.width = 300, what.height = 250, what.seed = 77;
    const truth::Matte m = truth::rendered(what);
    const auto errorOf = [&](bool byNetwork) {
      matte::SolveOptions options;
      options.learned = byNetwork;
      const image::Raster<float> alpha = test::must(matte::solveAlpha(m.picture, m.band, options, test::here(), {}));
      double sum = 0, count = 0;
      for (std::size_t i = 0; i < alpha.samples().size(); ++i) {
        if (matte::knownOf(m.band.samples()[i]) != matte::Known::undecided) continue;
        sum += std::abs(double(alpha.samples()[i] - m.alpha.samples()[i]));
        ++count;
      }
      return 1000 * sum / count;
    };
    const double alone = errorOf(false), corrected = errorOf(true);
    qInfo("%.1f thousandths from colours alone, %.1f as the network corrects it", alone, corrected);
    QVERIFY(alone <= worst);
    QVERIFY(corrected <= learned);
  }
};

HSEAM_TEST(TruthTest);
#include "truth_test.moc"
