#include "core/image/door/metadata.h"

#include <algorithm>
#include <cmath>
#include <exiv2/exiv2.hpp>
#include <mutex>

#include "core/base/text.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

std::string text(const Exiv2::ExifData& exif, const char* key) {
  const auto found = exif.findKey(Exiv2::ExifKey(key));
  return found == exif.end() ? std::string() : base::cleanText(found->toString());
}

std::string text(const Exiv2::IptcData& iptc, const char* key) {
  const auto found = iptc.findKey(Exiv2::IptcKey(key));
  if (found == iptc.end()) return {};
  const char* declared = iptc.detectCharset();
  const bool utf8 = declared && std::string(declared) == "UTF-8";
  return base::cleanText(found->toString(), utf8 ? base::Encoding::utf8OrLatin1 : base::Encoding::latin1);
}

// 0 also for what is no number, or less.
double number(const Exiv2::ExifData& exif, const char* key) {
  const auto found = exif.findKey(Exiv2::ExifKey(key));
  const double value = found == exif.end() || found->count() == 0 ? 0 : double(found->toFloat());
  return std::isfinite(value) && value > 0 ? value : 0;
}

std::string text(const Exiv2::XmpData& xmp, const char* key) {
  const auto found = xmp.findKey(Exiv2::XmpKey(key));
  if (found == xmp.end() || found->count() == 0) return {};
  std::string value = found->toString(0);
  // A text in several languages comes as 'lang="x-default" words'.
  if (value.rfind("lang=", 0) == 0) value.erase(0, value.find(' ') == std::string::npos ? 0 : value.find(' ') + 1);
  return base::cleanText(value);
}

// The XMP part of the library keeps tables that are made once, and not safely when two threads come at the same time.
void prepare() {
  static std::once_flag once;
  std::call_once(once, [] {
    Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
    Exiv2::XmpParser::initialize();
  });
}

}  // namespace

base::Result<Metadata> metadataOf(const std::string& path) {
  prepare();
  Metadata m;
  try {
    const auto image = Exiv2::ImageFactory::open(path);
    image->readMetadata();
    const Exiv2::ExifData& exif = image->exifData();
    const std::string make = text(exif, "Exif.Image.Make"), model = text(exif, "Exif.Image.Model");
    const bool both = !make.empty() && !model.empty() && model.rfind(make, 0) != 0;
    m.camera = both ? make + " " + model : (model.empty() ? make : model);
    m.lens = text(exif, "Exif.Photo.LensModel");
    m.takenAt = text(exif, "Exif.Photo.DateTimeOriginal");
    m.exposureS = number(exif, "Exif.Photo.ExposureTime");
    m.aperture = number(exif, "Exif.Photo.FNumber");
    m.focalMm = number(exif, "Exif.Photo.FocalLength");
    m.focal35Mm = number(exif, "Exif.Photo.FocalLengthIn35mmFilm");
    m.iso = int(std::min(number(exif, "Exif.Photo.ISOSpeedRatings"), 1e8));
    const Exiv2::XmpData& xmp = image->xmpData();
    m.title = text(xmp, "Xmp.dc.title");
    m.creator = text(xmp, "Xmp.dc.creator");
    m.rights = text(xmp, "Xmp.dc.rights");
    m.sourceType = text(xmp, "Xmp.iptcExt.DigitalSourceType");
    if (m.creator.empty()) m.creator = text(exif, "Exif.Image.Artist");
    if (m.rights.empty()) m.rights = text(exif, "Exif.Image.Copyright");
    const Exiv2::IptcData& iptc = image->iptcData();
    if (m.title.empty()) m.title = text(iptc, "Iptc.Application2.ObjectName");
    if (m.creator.empty()) m.creator = text(iptc, "Iptc.Application2.Byline");
    if (m.rights.empty()) m.rights = text(iptc, "Iptc.Application2.Copyright");
  } catch (...) {
    // A file without readable metadata is a picture all the same.
    return Metadata{};
  }
  return m;
}

namespace {

int turned(const Exiv2::ExifData& exif) {
  const int o = int(number(exif, "Exif.Image.Orientation"));
  return o >= 1 && o <= 8 ? o : 1;
}

}  // namespace

int orientationOf(const std::string& path) {
  prepare();
  try {
    const auto image = Exiv2::ImageFactory::open(path);
    image->readMetadata();
    return turned(image->exifData());
  } catch (...) {
    return 1;
  }
}

int orientationIn(const unsigned char* exif, std::size_t size) {
  prepare();
  try {
    Exiv2::ExifData data;
    Exiv2::ExifParser::decode(data, exif, std::uint32_t(size));
    return turned(data);
  } catch (...) {
    return 1;
  }
}

std::vector<unsigned char> thumbnailIn(const unsigned char* exif, std::size_t size) {
  prepare();
  try {
    Exiv2::ExifData data;
    Exiv2::ExifParser::decode(data, exif, std::uint32_t(size));
    const Exiv2::ExifThumbC small(data);
    if (std::string(small.mimeType()) != "image/jpeg") return {};
    const Exiv2::DataBuf bytes = small.copy();
    return {bytes.pData_, bytes.pData_ + bytes.size_};
  } catch (...) {
    return {};
  }
}

int ratingIn(const std::string& packet) {
  prepare();
  try {
    Exiv2::XmpData xmp;
    if (Exiv2::XmpParser::decode(xmp, packet) != 0) return 0;
    const auto found = xmp.findKey(Exiv2::XmpKey("Xmp.xmp.Rating"));
    return found == xmp.end() ? 0 : int(found->toLong());
  } catch (...) {
    return 0;
  }
}

base::Result<std::string> withRating(const std::string& packet, int rating) {
  prepare();
  const Error noXmp{Code::corrupt, "", "what stands there is no XMP; it is left as it is"};
  try {
    Exiv2::XmpData xmp;
    if (!packet.empty() && Exiv2::XmpParser::decode(xmp, packet) != 0) return noXmp;
    xmp["Xmp.xmp.Rating"] = std::to_string(rating);
    std::string out;
    if (Exiv2::XmpParser::encode(out, xmp) != 0) return noXmp;
    return out;
  } catch (...) {
    return noXmp;
  }
}

base::Status addMetadata(const std::string& path, const Metadata& m) {
  prepare();
  try {
    const auto image = Exiv2::ImageFactory::open(path);
    image->readMetadata();
    Exiv2::XmpData& xmp = image->xmpData();
    Exiv2::ExifData& exif = image->exifData();
    const bool hasExif = image->checkMode(Exiv2::mdExif) == Exiv2::amReadWrite;
    if (!m.title.empty()) xmp["Xmp.dc.title"] = m.title;
    if (!m.creator.empty()) {
      xmp["Xmp.dc.creator"] = m.creator;
      if (hasExif) exif["Exif.Image.Artist"] = m.creator;
    }
    if (!m.rights.empty()) {
      xmp["Xmp.dc.rights"] = m.rights;
      if (hasExif) exif["Exif.Image.Copyright"] = m.rights;
    }
    if (!m.sourceType.empty()) xmp["Xmp.iptcExt.DigitalSourceType"] = m.sourceType;
    image->writeMetadata();
  } catch (const std::exception& e) {
    return Error{Code::unwritable, path, std::string("title and rights cannot be written: ") + e.what()};
  } catch (...) {
    return Error{Code::unwritable, path, "title and rights cannot be written"};
  }
  return {};
}

}  // namespace hseam::image::door
