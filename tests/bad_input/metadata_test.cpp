// What cameras and programs write into pictures about themselves: text in every encoding, too long, broken, with bytes that end
// it.

#include <atomic>
#include <thread>

#include "bad_files.h"
#include "core/base/text.h"
#include "core/scene/layer_record.h"

using namespace hseam;

namespace {

struct Tag {
  quint16 number;
  QByteArray value;
  quint16 type = 2;  // ASCII; 7: bytes
};
// A TIFF structure with one directory (EXIF 2.32, 4.6.2), as APP1 holds it, and as a file of its own.
QByteArray tiffOf(const QList<Tag>& tags) {
  const auto u16 = [](quint16 v) { return QByteArray(1, char(v & 255)) + QByteArray(1, char(v >> 8)); };
  const auto u32 = [&](quint32 v) { return u16(quint16(v & 0xffff)) + u16(quint16(v >> 16)); };
  QByteArray directory = u16(quint16(tags.size())), values;
  const quint32 begin = 8 + 2 + quint32(tags.size()) * 12 + 4;
  for (const Tag& tag : tags) {
    const QByteArray value = tag.type == 2 ? tag.value + '\0' : tag.value;
    directory += u16(tag.number) + u16(tag.type) + u32(quint32(value.size()));
    if (value.size() <= 4) {
      directory += value.leftJustified(4, '\0');
    } else {
      directory += u32(begin + quint32(values.size()));
      values += value;
    }
  }
  return QByteArray("II*\0", 4) + u32(8) + directory + u32(0) + values;
}
QByteArray exifSegment(const QList<Tag>& tags) {
  const QByteArray data = QByteArray("Exif\0\0", 6) + tiffOf(tags);
  const int length = int(data.size()) + 2;
  return QByteArray("\xff\xe1") + char(length >> 8) + char(length & 255) + data;
}
// IPTC's records (IIM 4.2, 1.6): the set it is written in, if it says so, and who made it.
QByteArray iptcOf(const QByteArray& byline, bool saysUtf8) {
  const auto set = [](char record, char dataset, const QByteArray& v) {
    return QByteArray("\x1c") + record + dataset + char(v.size() >> 8) + char(v.size() & 255) + v;
  };
  return (saysUtf8 ? set(1, 90, "\x1b%G") : QByteArray()) + set(2, 80, byline);
}
constexpr quint16 kMaker = 0x010f, kArtist = 0x013b, kRights = 0x8298, kXmp = 700, kIptc = 33723;

}  // namespace

class MetadataTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  // A good JPEG with a segment put in behind its beginning.
  std::string jpegWith(const QByteArray& segments) const {
    const QByteArray good = test::goodFile(QStringLiteral("jpg"), dir_);
    const QString path = dir_.filePath(QStringLiteral("told.jpg"));
    test::put(path, good.left(2) + segments + good.mid(2));
    return path.toStdString();
  }
  std::string tiffWith(const QList<Tag>& tags) const {
    const QString path = dir_.filePath(QStringLiteral("told.tif"));
    test::put(path, tiffOf(tags));
    return path.toStdString();
  }

 private slots:
  void textsComeAsUtf8_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("is");
    QTest::newRow("plain") << QByteArray("A. Name") << QStringLiteral("A. Name");
    QTest::newRow("Latin-1") << QByteArray("\xa9 Ren\xe9 M\xfcller") << QStringLiteral("© René Müller");
    QTest::newRow("UTF-8") << QByteArray("\xc2\xa9 Ren\xc3\xa9") << QStringLiteral("© René");
    QTest::newRow("beyond the first plane") << QByteArray("\xf0\x9f\x8c\x8a wave") << QString::fromUtf8("\xf0\x9f\x8c\x8a wave");
    QTest::newRow("UTF-8 cut off") << QByteArray("Ren\xc3") << QStringLiteral("RenÃ");
    QTest::newRow("overlong slash") << QByteArray(
                                           "a\xc0\xaf"
                                           "b")
                                    << QString::fromUtf8(
                                           "a\xc3\x80\xc2\xaf"
                                           "b");
    QTest::newRow("half a pair") << QByteArray("x\xed\xa0\x80y") << QString::fromUtf8("x\xc3\xad\xc2\xa0y");
    QTest::newRow("above the last") << QByteArray("x\xf5\x90\x80\x80y") << QString::fromUtf8("x\xc3\xb5y");
    QTest::newRow("NUL within") << QByteArray("seen\0unseen", 11) << QStringLiteral("seen");
    QTest::newRow("lines and bells") << QByteArray("one\r\ntwo\a") << QStringLiteral("one  two");
    QTest::newRow("blanks around") << QByteArray("   me  ") << QStringLiteral("me");
    QTest::newRow("nothing but blanks") << QByteArray("      ") << QString();
    QTest::newRow("all bytes") << [] {
      QByteArray all;
      for (int i = 1; i < 256; ++i) all += char(i);
      return all;
    }() << QString();
  }
  void textsComeAsUtf8() {
    QFETCH(QByteArray, bytes);
    QFETCH(QString, is);
    // Every tag of text that is read, in the same words.
    const auto m = test::must(image::readMetadata(jpegWith(exifSegment({{kMaker, bytes}, {kArtist, bytes}, {kRights, bytes}}))));
    for (const std::string* text : {&m.camera, &m.creator, &m.rights}) {
      QVERIFY(base::isUtf8(*text));
      if (!is.isEmpty() || bytes.trimmed().isEmpty()) QCOMPARE(QString::fromStdString(*text), is);
    }
    // It goes into a project and comes back.
    scene::Scene s;
    s.canvas = {40, 30};
    scene::Layer l;
    l.id = {1};
    l.name = std::string(bytes.constData(), std::size_t(bytes.size()));  // a name from elsewhere may be anything as well
    scene::PictureContent p;
    p.source = test::picture(40, 30, 3, [](int x, int, int) { return x; });
    p.about = m;
    l.content = std::move(p);
    s.layers = {std::make_shared<const scene::Layer>(std::move(l))};
    const QString path = dir_.filePath(QStringLiteral("about.hseam"));
    QFile::remove(path);
    test::must(
        test::must(store::ProjectFile::create(path.toStdString(), s, "begin", test::memory(), test::here())).file->close());
    const auto again = test::must(store::ProjectFile::openToRead(path.toStdString(), test::memory(), test::here()));
    QVERIFY(again.history.scene().layers[0]->picture()->about == m);
    QVERIFY(base::isUtf8(again.history.scene().layers[0]->name));
  }
  void iptcIsReadByTheSetItDeclares() {
    const auto creator = [&](const QByteArray& iptc) {
      return QString::fromStdString(test::must(image::readMetadata(tiffWith({{kIptc, iptc, 7}}))).creator);
    };
    QCOMPARE(creator(iptcOf("Ren\xe9", false)), QStringLiteral("René"));
    QCOMPARE(creator(iptcOf("Ren\xc3\xa9", true)), QStringLiteral("René"));
  }
  void xmpIsUtf8() {
    const QByteArray xmp =
        "<rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>"
        "<rdf:Description rdf:about='' xmlns:dc='http://purl.org/dc/elements/1.1/'>"
        "<dc:title><rdf:Alt><rdf:li xml:lang='x-default'>Z\xc3\xbcrich at dusk</rdf:li></rdf:Alt></dc:title>"
        "</rdf:Description></rdf:RDF>";
    QCOMPARE(QString::fromStdString(test::must(image::readMetadata(tiffWith({{kXmp, xmp, 1}}))).title),
             QStringLiteral("Zürich at dusk"));
    QByteArray broken = xmp;
    broken.replace("Z\xc3\xbcrich", "Z\xfcrich");  // not what XML allows: no end of the program, whatever becomes of the title
    const auto m = image::readMetadata(tiffWith({{kXmp, broken, 1}}));
    QVERIFY(!m.ok() || base::isUtf8(m->title));
  }
  void longTextsAreCutBetweenCharacters() {
    const std::string long1(1'000'000, '\xe9');
    const std::string cut = base::cleanText(long1);
    QVERIFY(base::isUtf8(cut) && cut.size() <= 2000 && cut.size() > 1990);
    std::string utf8;
    for (int i = 0; i < 400'000; ++i) utf8 += "\xe2\x82\xac";
    QCOMPARE(base::cleanText(utf8).size(), std::size_t(1998));
    // Through a file: a TIFF has room for it.
    const auto m = image::readMetadata(tiffWith({{kArtist, QByteArray(1'000'000, '\xe9')}}));
    QVERIFY(m.ok() && base::isUtf8(m->creator) && m->creator.size() <= 2000);
  }
  void damagedBlocksAreNoDanger() {
    test::Noise random(20);
    const QByteArray good = exifSegment({{kMaker, "maker"}, {kArtist, "a name that is long enough"}, {kRights, "rights"}});
    for (int i = 0; i < 300; ++i) {
      QByteArray broken = good;
      for (int k = 1 + random.below(4); k > 0; --k) broken[10 + random.below(int(broken.size()) - 10)] = char(random.below(256));
      const auto m = image::readMetadata(jpegWith(broken));
      if (m.ok()) QVERIFY(base::isUtf8(m->creator) && base::isUtf8(m->rights) && base::isUtf8(m->camera));
    }
  }
  void manyThreadsReadAtOnce() {
    const std::string path = jpegWith(exifSegment({{kArtist, "R. Vell"}}));
    std::atomic<int> good{0};
    {
      std::vector<std::jthread> threads;
      for (int t = 0; t < 8; ++t) {
        threads.emplace_back([&] {
          for (int i = 0; i < 20; ++i) {
            const auto m = image::readMetadata(path);
            good += m.ok() && m->creator == "R. Vell";
          }
        });
      }
    }
    QCOMPARE(good.load(), 160);
  }
};
HSEAM_TEST(MetadataTest);
#include "metadata_test.moc"
