#include <atomic>
#include <condition_variable>
#include <map>
#include <thread>

#include "core/image/tile.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::image;

namespace {

Bytes noisy(std::uint64_t seed) {
  test::Noise noise(seed);
  Bytes b(kTilePixels);
  for (auto& v : b) v = std::byte(noise.next());
  return b;
}

class Shelf : public TileBacking {
 public:
  std::map<ContentHash, Bytes> held;
  int reads = 0;
  base::Result<Bytes> read(const ContentHash& hash, std::size_t) override {
    ++reads;
    const auto found = held.find(hash);
    if (found == held.end()) return base::Error{base::Code::corrupt, "", "gone"};
    return found->second;
  }
};

}  // namespace

class TileTest : public QObject {
  Q_OBJECT
 private slots:
  void oneValueKeepsNoBytes() {
    const auto memory = TileMemory::create(1 << 20);
    Bytes flat(kTilePixels * 3);
    for (std::size_t i = 0; i < flat.size(); i += 3)
      flat[i] = std::byte{7}, flat[i + 1] = std::byte{8}, flat[i + 2] = std::byte{9};
    const TileRef t = memory->adopt(PixelFormat::rgb8, flat);
    QVERIFY(t->uniform().has_value());
    QCOMPARE(memory->residentBytes(), std::size_t(0));
    QCOMPARE((*t->uniform())[1], std::byte{8});
    flat.back() = std::byte{1};
    QVERIFY(!memory->adopt(PixelFormat::rgb8, flat)->uniform());
  }
  void equalContentHasEqualHash() {
    const auto memory = TileMemory::create(1 << 24);
    QCOMPARE(memory->adopt(PixelFormat::grey8, noisy(1))->hash(), memory->adopt(PixelFormat::grey8, noisy(1))->hash());
    QVERIFY(memory->adopt(PixelFormat::grey8, noisy(1))->hash() != memory->adopt(PixelFormat::grey8, noisy(2))->hash());
  }
  void budgetIsKeptByLettingBackedTilesGo() {
    const auto memory = TileMemory::create(8 * kTilePixels);
    const auto shelf = std::make_shared<Shelf>();
    std::vector<TileRef> tiles;
    for (int i = 0; i < 32; ++i) {
      const Bytes b = noisy(std::uint64_t(i));
      tiles.push_back(memory->adopt(PixelFormat::grey8, b));
      shelf->held[tiles.back()->hash()] = b;
      tiles.back()->setBacking(shelf);
    }
    QVERIFY2(memory->residentBytes() <= 9 * kTilePixels, qPrintable(QString::number(memory->residentBytes())));
    for (int i = 0; i < 32; ++i) {
      const TilePin p = test::must(pin(tiles[std::size_t(i)]));
      QVERIFY(std::equal(p.data(), p.data() + kTilePixels, noisy(std::uint64_t(i)).begin()));
    }
    QVERIFY(shelf->reads >= 24);
    QVERIFY(memory->residentBytes() <= 9 * kTilePixels);
  }
  void unbackedTilesNeverLeave() {
    const auto memory = TileMemory::create(2 * kTilePixels);
    std::vector<TileRef> tiles;
    for (int i = 0; i < 8; ++i) tiles.push_back(memory->adopt(PixelFormat::grey8, noisy(std::uint64_t(i))));
    for (const TileRef& t : tiles) QVERIFY(t->resident());
  }
  void nobodyWaitsWhileTheDiskIsRead() {
    // A disk that answers when it is told to.
    class Slow : public TileBacking {
     public:
      std::mutex mutex;
      std::condition_variable changed;
      bool asked = false, may = false;
      base::Result<Bytes> read(const ContentHash&, std::size_t) override {
        std::unique_lock lock(mutex);
        asked = true;
        changed.notify_all();
        if (!changed.wait_for(lock, std::chrono::seconds(20), [&] { return may; }))
          return base::Error{base::Code::unreadable, "", "nobody came"};
        return noisy(1);
      }
    };
    const auto memory = TileMemory::create(2 * kTilePixels);
    const auto slow = std::make_shared<Slow>();
    const ContentHash hash = memory->adopt(PixelFormat::grey8, noisy(1))->hash();
    const TileRef tile = memory->backed(PixelFormat::grey8, hash, slow);
    std::atomic<bool> came{false};
    std::jthread reader([&] { came = pin(tile).ok(); });
    {
      std::unique_lock lock(slow->mutex);
      QVERIFY(slow->changed.wait_for(lock, std::chrono::seconds(20), [&] { return slow->asked; }));
    }
    // While it hangs: the tile answers, and others are let go.
    QVERIFY(!tile->resident() && tile->hash() == hash && tile->backing() == slow);
    std::vector<TileRef> others;
    const auto shelf = std::make_shared<Shelf>();
    for (int i = 0; i < 8; ++i) {
      others.push_back(memory->adopt(PixelFormat::grey8, noisy(std::uint64_t(10 + i))));
      others.back()->setBacking(shelf);
    }
    memory->trim();
    QVERIFY(memory->residentBytes() <= 2 * kTilePixels);
    {
      const std::lock_guard lock(slow->mutex);
      slow->may = true;
    }
    slow->changed.notify_all();
    reader.join();
    QVERIFY(came);
  }
  void theListOfTilesDoesNotGrowWithTilesThatAreGone() {
    const auto memory = TileMemory::create(std::size_t(1) << 30);
    const TileRef stays = memory->adopt(PixelFormat::grey8, noisy(1));
    for (int i = 0; i < 5000; ++i) memory->adopt(PixelFormat::grey8, noisy(std::uint64_t(i % 7 + 2)));
    QVERIFY2(memory->listed() < 2000, qPrintable(QString::number(memory->listed())));
    QCOMPARE(memory->residentBytes(), std::size_t(kTilePixels));
  }
  void aPinOutlivesEviction() {
    const auto memory = TileMemory::create(2 * kTilePixels);
    const auto shelf = std::make_shared<Shelf>();
    const TileRef first = memory->adopt(PixelFormat::grey8, noisy(99));
    first->setBacking(shelf);
    const TilePin held = test::must(pin(first));
    std::vector<TileRef> others;
    for (int i = 0; i < 8; ++i) {
      others.push_back(memory->adopt(PixelFormat::grey8, noisy(std::uint64_t(i))));
      others.back()->setBacking(shelf);
    }
    QVERIFY(!first->resident());
    QVERIFY(std::equal(held.data(), held.data() + kTilePixels, noisy(99).begin()));
    QCOMPARE(pin(first).error().code, base::Code::corrupt);  // the shelf never got it
  }
};
HSEAM_TEST(TileTest);
#include "tile_test.moc"
