#include "core/image/door/tiff.h"

#include <tiffio.h>

#include <memory>

#include "core/image/door/paper.h"

namespace hseam::image::door {
namespace {

Paper& paperOf(thandle_t handle) {
  return *static_cast<Paper*>(handle);
}

// The library's own words go to the terminal; what the paper knows is said to the user.
TIFF* openOn(Paper& paper, const std::string& path) {
  TIFFSetErrorHandler(nullptr);
  TIFFSetWarningHandler(nullptr);
  return TIFFClientOpen(
      path.c_str(), "w", &paper, [](thandle_t h, void* to, tmsize_t n) { return tmsize_t(paperOf(h).read(to, size_t(n))); },
      [](thandle_t h, void* from, tmsize_t n) {
        paperOf(h).write(from, size_t(n));
        return n;
      },
      [](thandle_t h, toff_t offset, int whence) {
        Paper& p = paperOf(h);
        const auto base = whence == SEEK_SET ? 0 : (whence == SEEK_CUR ? p.tell() : p.size());
        p.seek(base + std::int64_t(offset));
        return toff_t(p.tell());
      },
      [](thandle_t) { return 0; }, [](thandle_t h) { return toff_t(paperOf(h).size()); },
      [](thandle_t, void**, toff_t*) { return 0; }, [](thandle_t, void*, toff_t) {});
}

void describe(TIFF* tiff, const WriteSpec& w) {
  TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, w.size.width);
  TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, w.size.height);
  TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, w.channels);
  TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, w.wide ? 16 : 8);
  TIFFSetField(tiff, TIFFTAG_SAMPLEFORMAT, SAMPLEFORMAT_UINT);
  TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
  TIFFSetField(tiff, TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
  TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, w.channels < 3 ? PHOTOMETRIC_MINISBLACK : PHOTOMETRIC_RGB);
  if (w.channels == 2 || w.channels == 4) {
    const std::uint16_t straight = EXTRASAMPLE_UNASSALPHA;
    TIFFSetField(tiff, TIFFTAG_EXTRASAMPLES, 1, &straight);
  }
  TIFFSetField(tiff, TIFFTAG_COMPRESSION, COMPRESSION_ADOBE_DEFLATE);
  TIFFSetField(tiff, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
  TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, 32);
  if (w.pixelsPerInch > 0) {
    TIFFSetField(tiff, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
    TIFFSetField(tiff, TIFFTAG_XRESOLUTION, w.pixelsPerInch);
    TIFFSetField(tiff, TIFFTAG_YRESOLUTION, w.pixelsPerInch);
  }
  if (!w.profile.empty()) TIFFSetField(tiff, TIFFTAG_ICCPROFILE, std::uint32_t(w.profile.size()), w.profile.data());
}

}  // namespace

base::Status writeTiff(const std::string& path, const WriteSpec& w,
                       const std::function<base::Status(int y, std::byte* row)>& next) {
  Paper paper(path);
  if (paper.failed()) return paper.outcome();
  const std::unique_ptr<TIFF, void (*)(TIFF*)> tiff(openOn(paper, path), TIFFClose);
  if (!tiff) return base::noMemory(path);
  describe(tiff.get(), w);
  std::vector<std::byte> row(std::size_t(w.size.width) * std::size_t(w.channels) * (w.wide ? 2 : 1));
  bool packed = true;
  for (int y = 0; y < w.size.height && packed && !paper.failed(); ++y) {
    HSEAM_DO(next(y, row.data()));
    packed = TIFFWriteScanline(tiff.get(), row.data(), std::uint32_t(y), 0) == 1;
  }
  packed = packed && TIFFFlush(tiff.get()) == 1;
  if (!packed && !paper.failed()) return base::Error{base::Code::unwritable, path, "the picture cannot be packed"};
  paper.close();
  return paper.outcome();
}

}  // namespace hseam::image::door
