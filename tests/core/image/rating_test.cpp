#include "core/image/rating.h"

#include <QFile>
#include <QTemporaryDir>

#include "core/image/picture_file.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using image::Rating;

class RatingTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  QByteArray get(const char* name) const {
    QFile f(dir_.filePath(QLatin1String(name)));
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }
  void put(const char* name, const QByteArray& bytes) const {
    QFile f(dir_.filePath(QLatin1String(name)));
    if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size()) qFatal("cannot write %s", name);
  }

 private slots:
  void itIsKeptBesideThePicture() {
    test::must(image::writeTiled(at("a.jpg"), test::picture(20, 10, 3, [](int, int, int) { return 90; })));
    const QByteArray before = get("a.jpg");
    QVERIFY(image::ratingOf(at("a.jpg")) == Rating::none);
    for (const Rating r : {Rating::keep, Rating::out, Rating::perhaps, Rating::none, Rating::keep}) {
      test::must(image::setRating(at("a.jpg"), r));
      QVERIFY(image::ratingOf(at("a.jpg")) == r);
    }
    QCOMPARE(get("a.jpg"), before);
    QVERIFY(get("a.jpg.xmp").contains("xmp:Rating"));
  }
  void whatOthersWroteStays() {
    put("b.jpg.xmp",
        "<x:xmpmeta xmlns:x='adobe:ns:meta/'><rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>"
        "<rdf:Description xmlns:xmp='http://ns.adobe.com/xap/1.0/' xmp:Rating='2' xmp:Label='stage'/></rdf:RDF></x:xmpmeta>");
    QVERIFY(image::ratingOf(at("b.jpg")) == Rating::out);
    test::must(image::setRating(at("b.jpg"), Rating::keep));
    QVERIFY(image::ratingOf(at("b.jpg")) == Rating::keep);
    QVERIFY(get("b.jpg.xmp").contains("stage"));
    // One of the other kind of name is read where there is no own.
    put("c.xmp", get("b.jpg.xmp"));
    QVERIFY(image::ratingOf(at("c.tif")) == Rating::keep);
  }
  void whatIsNoXmpIsLeftAlone() {
    put("d.jpg.xmp", "a letter, and no XMP");
    QVERIFY(image::ratingOf(at("d.jpg")) == Rating::none);
    QCOMPARE(image::setRating(at("d.jpg"), Rating::keep).error().code, base::Code::corrupt);
    QCOMPARE(get("d.jpg.xmp"), QByteArray("a letter, and no XMP"));
    QCOMPARE(image::setRating("/nowhere/at/all.jpg", Rating::keep).error().code, base::Code::unwritable);
  }
};
HSEAM_TEST(RatingTest);
#include "rating_test.moc"
