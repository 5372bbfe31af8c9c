// Proofs against a device that is written out here as matrices.

#include <array>
#include <cmath>

#include "core/image/colour_profile.h"
#include "core/image/display_profile.h"
#include "core/image/transfer.h"
#include "inks.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::image;

namespace {

using Triple = std::array<double, 3>;
using Matrix = std::array<Triple, 3>;  // rows
using Primaries = std::array<std::array<double, 2>, 3>;

constexpr std::array<double, 2> kD65{0.3127, 0.3290};
constexpr Primaries kSrgb{{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}}}, kDull{{{0.50, 0.34}, {0.32, 0.50}, {0.20, 0.16}}};

Triple times(const Matrix& m, const Triple& v) {
  Triple out{};
  for (std::size_t i = 0; i < 3; ++i) out[i] = m[i][0] * v[0] + m[i][1] * v[1] + m[i][2] * v[2];
  return out;
}
Matrix inverse(const Matrix& m) {
  const auto minor = [&](std::size_t r, std::size_t c) {
    const std::size_t a = (r + 1) % 3, b = (r + 2) % 3, d = (c + 1) % 3, e = (c + 2) % 3;
    return m[a][d] * m[b][e] - m[a][e] * m[b][d];
  };
  const double det = m[0][0] * minor(0, 0) + m[0][1] * minor(0, 1) + m[0][2] * minor(0, 2);
  Matrix out{};
  for (std::size_t r = 0; r < 3; ++r) {
    for (std::size_t c = 0; c < 3; ++c) out[c][r] = minor(r, c) / det;
  }
  return out;
}
// Linear values → XYZ under D65, scaled so that 1, 1, 1 is the white.
Matrix matrixOf(const Primaries& p) {
  Matrix m{};
  for (std::size_t i = 0; i < 3; ++i) {
    const double x = p[i][0], y = p[i][1];
    m[0][i] = x / y, m[1][i] = 1, m[2][i] = (1 - x - y) / y;
  }
  const Triple white{kD65[0] / kD65[1], 1, (1 - kD65[0] - kD65[1]) / kD65[1]};
  const Triple k = times(inverse(m), white);
  for (Triple& row : m) {
    for (std::size_t i = 0; i < 3; ++i) row[i] *= k[i];
  }
  return m;
}

std::vector<std::byte> profileOf(const Primaries& p, double paper) {
  const QByteArray bytes = inks::linearProfile(p, paper);
  const auto* first = reinterpret_cast<const std::byte*>(bytes.constData());
  return {first, first + bytes.size()};
}

Triple shown(const Proof& how, const std::vector<std::byte>& device, std::uint32_t rgb) {
  test::must(DisplayTransform::proof(how, device, {}))->apply(&rgb, 1);
  return {double(rgb >> 16 & 255), double(rgb >> 8 & 255), double(rgb & 255)};
}

}  // namespace

class ProofTest : public QObject {
  Q_OBJECT
 private slots:
  // A device whose primaries lie within those of sRGB: what it cannot give is clipped in its own numbers.
  void aProofShowsWhatTheDeviceGives() {
    const auto bytes = profileOf(kDull, 1);
    for (const double v : shown({}, bytes, 0xff808080)) QVERIFY(std::abs(v - 128) <= 1);
    const Matrix device = matrixOf(kDull), srgb = matrixOf(kSrgb);
    for (const std::uint32_t rgb : {0xffff0000u, 0xff10c020u, 0xff2030e0u}) {
      Triple linear{};
      for (std::size_t i = 0; i < 3; ++i) linear[i] = linearFromEncoded(double(rgb >> (16 - 8 * i) & 255) / 255);
      Triple ink = times(inverse(device), times(srgb, linear));
      double clipped = 0;
      for (double& v : ink) clipped += std::abs(v - std::clamp(v, 0.0, 1.0)), v = std::clamp(v, 0.0, 1.0);
      QVERIFY(clipped > 0.1);
      const Triple back = times(inverse(srgb), times(device, ink)), seen = shown({}, bytes, rgb);
      for (std::size_t i = 0; i < 3; ++i) {
        const double wanted = 255 * encodedFromLinear(std::clamp(back[i], 0.0, 1.0));
        QVERIFY2(std::abs(seen[i] - wanted) <= 3,
                 qPrintable(QStringLiteral("%1: %2, wanted %3").arg(rgb, 0, 16).arg(seen[i]).arg(wanted)));
      }
      QCOMPARE(shown({Proof::Intent::relative, false, true}, bytes, rgb), (Triple{128, 128, 128}));
    }
    QVERIFY((shown({Proof::Intent::relative, false, true}, bytes, 0xffb0a090) != Triple{128, 128, 128}));
  }
  void aProofShowsThePapersWhite() {
    const auto bytes = profileOf(kSrgb, 0.8);
    QCOMPARE(shown({}, bytes, 0xffffffff), (Triple{255, 255, 255}));
    const double wanted = 255 * encodedFromLinear(0.8);
    for (const double v : shown({Proof::Intent::relative, true, false}, bytes, 0xffffffff))
      QVERIFY2(std::abs(v - wanted) <= 2, qPrintable(QString::number(v)));
  }
  void whatCannotBeProofedIsRefused() {
    const std::vector<std::byte> junk(200, std::byte(7));
    const auto good = profileOf(kSrgb, 1);
    QCOMPARE(DisplayTransform::proof({}, junk, {}).error().code, base::Code::corrupt);
    QCOMPARE(DisplayTransform::proof({}, good, junk).error().code, base::Code::corrupt);
    // From ink to colour only.
    const QByteArray press = inks::pressProfile();
    const auto* first = reinterpret_cast<const std::byte*>(press.constData());
    QCOMPARE(DisplayTransform::proof({}, {first, std::size_t(press.size())}, {}).error().code, base::Code::unsupported);
    QCOMPARE(readProfile("/nowhere/at-all.icc").error().code, base::Code::unreadable);
  }
};

HSEAM_TEST(ProofTest);
#include "proof_test.moc"
