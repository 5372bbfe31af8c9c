#include "core/learned/network.h"

#include <QTemporaryDir>
#include <fstream>
#include <thread>

#include "core/base/resources.h"
#include "core/learned/seen.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::learned;

namespace {

std::string modelFile(const char* name) {
  return base::resourcePath("models") + "/" + name + ".onnx.zst";
}

std::vector<char> bytesOf(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  return std::vector<char>((std::istreambuf_iterator<char>(file)), {});
}

// A red disc on grey, 255 px wide.
image::Raster<float> discOnGrey() {
  image::Raster<float> rgb(320, 240, 3);
  for (int y = 0; y < 240; ++y) {
    for (int x = 0; x < 320; ++x) {
      const bool in = std::hypot(x - 160, y - 120) < 70;
      for (int c = 0; c < 3; ++c) rgb.at(x, y)[c] = in ? (c == 0 ? 0.8f : 0.15f) : 0.5f + 0.02f * float((x * 7 + y * 3) % 5);
    }
  }
  return rgb;
}

}  // namespace

class NetworkTest : public QObject {
  Q_OBJECT
 private slots:
  void aMissingFileIsSaid() {
    const auto n = Network::read("/nowhere/at/all.onnx.zst");
    QVERIFY(!n.ok());
    QCOMPARE(n.error().code, base::Code::notFound);
  }
  void truncatedAndForeignFilesAreSaid() {
    const QTemporaryDir folder;
    const std::vector<char> whole = bytesOf(modelFile("person"));
    QVERIFY(whole.size() > 100'000);
    for (const std::size_t size : {std::size_t(0), std::size_t(3), whole.size() / 2, whole.size() - 1}) {
      const std::string path = folder.filePath(QString::number(size)).toStdString();
      std::ofstream(path, std::ios::binary).write(whole.data(), std::streamsize(size));
      const auto n = Network::read(path);
      QVERIFY(!n.ok());
      QCOMPARE(n.error().code, base::Code::corrupt);
      QVERIFY(!n.error().detail.empty());
    }
    // Packed well, but no network: forty bytes of a text in one frame.
    const unsigned char frame[] = {0x28, 0xb5, 0x2f, 0xfd, 0x20, 0x05, 0x29, 0x00, 0x00, 'h', 'e', 'l', 'l', 'o'};
    const std::string path = folder.filePath("text").toStdString();
    std::ofstream(path, std::ios::binary).write(reinterpret_cast<const char*>(frame), sizeof frame);
    const auto n = Network::read(path);
    QVERIFY(!n.ok());
    QCOMPARE(n.error().code, base::Code::corrupt);
  }
  void aPictureOfAnotherShapeIsRefused() {
    const auto n = test::must(Network::read(modelFile("person")));
    const auto out = n->run(Tensor{{1, 7, 256, 256}, std::vector<float>(7 * 256 * 256)}, {"mask"});
    QVERIFY(!out.ok());
    QCOMPARE(out.error().code, base::Code::corrupt);
    const auto unnamed = n->run(Tensor{{1, 3, 256, 256}, std::vector<float>(3 * 256 * 256)}, {"nothing of that name"});
    QVERIFY(!unnamed.ok());
  }
  void theSamePictureGivesTheSameFromEveryThread() {
    const auto rgb = discOnGrey();
    const Seen first = test::must(see(rgb, {}));
    std::vector<Seen> others(3);
    std::vector<std::thread> threads;
    for (Seen& s : others) threads.emplace_back([&rgb, &s] { s = test::must(see(rgb, {})); });
    for (std::thread& t : threads) t.join();
    for (const Seen& s : others) {
      QVERIFY(s.subject.samples() == first.subject.samples());
      QCOMPARE(s.things.size(), first.things.size());
    }
  }
  void aDiscIsTheSubject() {
    const Seen s = test::must(see(discOnGrey(), {}));
    QCOMPARE(s.subject.width(), kSubjectSide);
    const auto at = [&](double x, double y) { return double(*s.subject.at(int(x * kSubjectSide), int(y * kSubjectSide))); };
    QVERIFY2(at(0.5, 0.5) > 0.5, qPrintable(QString::number(at(0.5, 0.5))));
    for (const auto& [x, y] : {std::pair{0.05, 0.05}, {0.95, 0.05}, {0.05, 0.95}, {0.95, 0.95}}) QVERIFY(at(x, y) < 0.3);
  }
};
HSEAM_TEST(NetworkTest);
#include "network_test.moc"
