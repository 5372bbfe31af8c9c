// The picture module: each kind of file by its own library. Loaded on demand by picture_file.cpp.

#include "core/image/door/picture_door.h"

#include "core/image/door/exr.h"
#include "core/image/door/jpeg.h"
#include "core/image/door/metadata.h"
#include "core/image/door/png.h"
#include "core/image/door/raw.h"
#include "core/image/door/tiff.h"
#include "core/image/door/tiff_read.h"
#include "core/image/door/webp.h"

namespace hseam::image::door {
namespace {

class FileDoor final : public Door {
 public:
  base::Result<std::unique_ptr<Reader>> open(const std::string& path, const std::string& kind, int enough) override {
    if (kind == "jpeg") return openJpeg(path, enough);
    if (kind == "png") return openPng(path);
    if (kind == "tiff") return openTiff(path);
    if (kind == "webp") return openWebp(path);
    if (kind == "openexr") return openExr(path);
    if (kind == "raw") return openRaw(path, enough);
    return base::Error{base::Code::unsupported, path, "this build cannot read " + kind};
  }
  base::Status write(const std::string& path, const std::string& kind, const WriteSpec& w,
                     const std::function<base::Status(int, std::byte*)>& next) override {
    if (kind == "jpeg") return writeJpeg(path, w, next);
    if (kind == "png") return writePng(path, w, next);
    if (kind == "tiff") return writeTiff(path, w, next);
    if (kind == "webp") return writeWebp(path, w, next);
    if (kind == "openexr") return writeExr(path, w, next);
    return base::Error{base::Code::unsupported, path, "this build cannot write " + kind};
  }
  base::Result<Metadata> metadata(const std::string& path) override { return metadataOf(path); }
  int ratingIn(const std::string& packet) override { return door::ratingIn(packet); }
  base::Result<std::string> withRating(const std::string& packet, int rating) override {
    return door::withRating(packet, rating);
  }
  base::Status addMetadata(const std::string& path, const Metadata& m) override { return door::addMetadata(path, m); }
};

}  // namespace
}  // namespace hseam::image::door

extern "C" hseam::image::door::Door* hseam_picture_door() {
  static hseam::image::door::FileDoor door;
  return &door;
}
