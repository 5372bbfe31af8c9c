#include "core/image/door/tiff_read.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <tiffio.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstdarg>
#include <cstring>

#include "core/image/door/light.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

// Nothing that the library makes room for at once is longer: a hostile tile may call itself as large as it likes.
constexpr tmsize_t kMostAtOnce = tmsize_t(512) << 20;

// Counts what it got: the library takes the -1 of a failed read for a count.
class TiffSource {
 public:
  explicit TiffSource(const std::string& path) : file_(::open(path.c_str(), O_RDONLY | O_CLOEXEC)) {
    struct stat s {};
    if (file_ >= 0 && fstat(file_, &s) == 0) size_ = s.st_size;
  }
  TiffSource(const TiffSource&) = delete;
  TiffSource& operator=(const TiffSource&) = delete;
  ~TiffSource() {
    if (file_ >= 0) ::close(file_);
  }
  TIFF* opened() {
    TIFFOpenOptions* options = TIFFOpenOptionsAlloc();
    TIFFOpenOptionsSetMaxSingleMemAlloc(options, kMostAtOnce);
    TIFFOpenOptionsSetErrorHandlerExtR(
        options,
        [](TIFF*, void* self, const char*, const char* format, va_list list) {
          std::string& said = static_cast<TiffSource*>(self)->said_;
          char text[200];
          std::vsnprintf(text, sizeof text, format, list);
          if (said.empty()) said = text;
          return 1;
        },
        this);
    TIFFOpenOptionsSetWarningHandlerExtR(
        options, [](TIFF*, void*, const char*, const char*, va_list) { return 1; }, nullptr);
    TIFF* tiff = TIFFClientOpenExt(
        "picture", "rm", this, [](thandle_t h, void* to, tmsize_t n) { return self(h).read(to, n); },
        [](thandle_t, void*, tmsize_t) { return tmsize_t(0); },
        [](thandle_t h, toff_t offset, int whence) {
          const std::int64_t from = whence == SEEK_SET ? 0 : (whence == SEEK_CUR ? self(h).at_ : self(h).size_);
          self(h).at_ = from + std::int64_t(offset);
          return toff_t(self(h).at_);
        },
        [](thandle_t) { return 0; }, [](thandle_t h) { return toff_t(self(h).size_); },
        [](thandle_t, void**, toff_t*) { return 0; }, [](thandle_t, void*, toff_t) {}, options);
    TIFFOpenOptionsFree(options);
    return tiff;
  }
  std::string said(const char* what) const { return said_.empty() ? what : std::string(what) + ": " + said_; }

 private:
  static TiffSource& self(thandle_t h) { return *static_cast<TiffSource*>(h); }
  tmsize_t read(void* to, tmsize_t n) {
    const ssize_t got = n > 0 ? ::pread(file_, to, std::size_t(n), at_) : 0;
    at_ += std::max<ssize_t>(got, 0);
    return std::max<ssize_t>(got, 0);
  }
  int file_;
  std::int64_t size_ = 0, at_ = 0;
  std::string said_;
};

// How the file keeps its samples.
struct Kept {
  std::uint32_t width = 0, height = 0, tileWidth = 0, tileHeight = 0, rowsPerStrip = 0;
  std::uint16_t samples = 1, bits = 1, photometric = 0, format = SAMPLEFORMAT_UINT, planar = PLANARCONFIG_CONTIG, ink = 0;
  bool alpha = false, premultiplied = false, tiled = false;
  int colours() const { return photometric == PHOTOMETRIC_SEPARATED ? 4 : (photometric == PHOTOMETRIC_RGB ? 3 : 1); }
  int channels() const { return colours() + (alpha && colours() != 4 ? 1 : 0); }
  // Else the library shows it.
  bool plain() const {
    const bool known = photometric == PHOTOMETRIC_RGB || photometric == PHOTOMETRIC_MINISBLACK ||
                       photometric == PHOTOMETRIC_MINISWHITE || (photometric == PHOTOMETRIC_SEPARATED && bits == 8);
    const bool depth = format == SAMPLEFORMAT_UINT || format == SAMPLEFORMAT_VOID ? bits == 8 || bits == 16
                                                                                  : floats() && (bits == 16 || bits == 32);
    return known && depth && int(samples) >= colours();
  }
  bool floats() const { return format == SAMPLEFORMAT_IEEEFP; }
};

Kept keptBy(TIFF* t) {
  Kept k;
  TIFFGetField(t, TIFFTAG_IMAGEWIDTH, &k.width);
  TIFFGetField(t, TIFFTAG_IMAGELENGTH, &k.height);
  TIFFGetFieldDefaulted(t, TIFFTAG_SAMPLESPERPIXEL, &k.samples);
  TIFFGetFieldDefaulted(t, TIFFTAG_BITSPERSAMPLE, &k.bits);
  TIFFGetFieldDefaulted(t, TIFFTAG_SAMPLEFORMAT, &k.format);
  TIFFGetFieldDefaulted(t, TIFFTAG_PLANARCONFIG, &k.planar);
  if (!TIFFGetField(t, TIFFTAG_PHOTOMETRIC, &k.photometric))
    k.photometric = k.samples >= 3 ? PHOTOMETRIC_RGB : PHOTOMETRIC_MINISBLACK;
  std::uint16_t compression = 0;
  TIFFGetFieldDefaulted(t, TIFFTAG_COMPRESSION, &compression);
  if (compression == COMPRESSION_JPEG && k.photometric == PHOTOMETRIC_YCBCR && k.planar == PLANARCONFIG_CONTIG) {
    TIFFSetField(t, TIFFTAG_JPEGCOLORMODE, JPEGCOLORMODE_RGB);
    k.photometric = PHOTOMETRIC_RGB;
  }
  std::uint16_t extras = 0, *kinds = nullptr;
  TIFFGetFieldDefaulted(t, TIFFTAG_EXTRASAMPLES, &extras, &kinds);
  if (extras > 0 && kinds && int(k.samples) > k.colours()) {
    k.alpha = kinds[0] == EXTRASAMPLE_ASSOCALPHA || kinds[0] == EXTRASAMPLE_UNASSALPHA || extras == 1;
    k.premultiplied = kinds[0] == EXTRASAMPLE_ASSOCALPHA;
  }
  k.tiled = TIFFIsTiled(t) != 0;
  if (k.tiled) {
    TIFFGetField(t, TIFFTAG_TILEWIDTH, &k.tileWidth);
    TIFFGetField(t, TIFFTAG_TILELENGTH, &k.tileHeight);
  } else {
    TIFFGetFieldDefaulted(t, TIFFTAG_ROWSPERSTRIP, &k.rowsPerStrip);
    k.rowsPerStrip = std::clamp(k.rowsPerStrip, 1u, std::max(1u, k.height));
  }
  return k;
}

float halfToFloat(std::uint16_t h) {
  const std::uint32_t sign = std::uint32_t(h >> 15) << 31, exponent = h >> 10 & 31, mantissa = h & 1023;
  float f = 0;
  if (exponent == 0) {
    f = float(mantissa) * 0x1p-24f;
    return sign ? -f : f;
  }
  const std::uint32_t bits = sign | (exponent == 31 ? 255u : exponent + 112u) << 23 | mantissa << 13;
  std::memcpy(&f, &bits, sizeof f);
  return f;
}

template <class T>
void straighten(T* row, std::size_t pixels, int channels) {
  constexpr unsigned most = T(~T(0));
  const std::size_t ch = std::size_t(channels);
  for (std::size_t i = 0; i < pixels; ++i, row += ch) {
    const unsigned a = row[ch - 1];
    for (std::size_t c = 0; c + 1 < ch && a > 0; ++c)
      row[c] = T(std::min<std::uint64_t>(most, (std::uint64_t(row[c]) * most + a / 2) / a));
  }
}

class TiffReader final : public Reader {
 public:
  explicit TiffReader(const std::string& path) : source_(path), tiff_(source_.opened(), TIFFClose) {}
  base::Status begin(const std::string& path) {
    if (!tiff_) return Error{Code::corrupt, path, source_.said("the picture's header is damaged")};
    TIFF* t = tiff_.get();
    kept_ = keptBy(t);
    header_.size = {int(std::min(kept_.width, 0x7fffffffu)), int(std::min(kept_.height, 0x7fffffffu))};
    std::uint16_t orientation = 1;
    TIFFGetFieldDefaulted(t, TIFFTAG_ORIENTATION, &orientation);
    header_.orientation = orientation >= 1 && orientation <= 8 ? orientation : 1;
    std::uint32_t length = 0;
    void* profile = nullptr;
    if (TIFFGetField(t, TIFFTAG_ICCPROFILE, &length, &profile) && profile) {
      const auto* bytes = static_cast<const std::byte*>(profile);
      header_.profile.assign(bytes, bytes + length);
    }
    plain_ = kept_.plain();
    if (!plain_) return shownByLibrary(path);
    // Floats without a profile are light, as in OpenEXR; with one they are what the profile says.
    light_ = kept_.floats() && header_.profile.empty();
    header_.channels = kept_.channels();
    header_.cmyk = kept_.photometric == PHOTOMETRIC_SEPARATED;
    header_.wide = kept_.bits > 8;
    return {};
  }
  const Header& header() const override { return header_; }

  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    if (!plain_) return readShown(rows, warning);
    const std::uint32_t wide = kept_.tiled ? kept_.tileWidth : kept_.width,
                        high = kept_.tiled ? kept_.tileHeight : kept_.rowsPerStrip;
    const tmsize_t bytes = kept_.tiled ? TIFFTileSize(tiff_.get()) : TIFFStripSize(tiff_.get());
    if (bytes <= 0 || bytes > kMostAtOnce || wide == 0 || high == 0)
      return Error{Code::corrupt, "", source_.said("the picture's parts are of no possible size")};
    const int planes = kept_.planar == PLANARCONFIG_SEPARATE ? std::min<int>(kept_.samples, header_.channels) : 1;
    std::vector<std::byte> part(static_cast<std::size_t>(bytes));
    LightRows light(header_.channels, kept_.premultiplied);
    std::vector<float> band(light_ ? std::size_t(header_.size.width) * std::size_t(header_.channels) * high : 0);
    std::size_t good = 0, lost = 0;
    for (std::uint32_t top = 0; top < kept_.height; top += high) {
      if (stop(double(top) / kept_.height)) return Error{Code::cancelled, "", "stopped"};
      const std::uint32_t count = std::min(high, kept_.height - top);
      for (int plane = 0; plane < planes; ++plane) {
        for (std::uint32_t left = 0; left < kept_.width; left += wide) {
          const bool whole = readPart(left, top, plane, part);
          (whole ? good : lost) += 1;
          if (whole) take(part, left, top, std::min(wide, kept_.width - left), count, plane, planes, rows, band);
        }
      }
      finish(top, count, rows, band, light);
    }
    if (good == 0) return Error{Code::corrupt, "", source_.said("the picture's data is damaged")};
    if (lost > 0) warning = "the file is damaged or ends early; missing parts are black";
    if (light_ && warning.empty()) warning = light.warning();
    return {};
  }

 private:
  base::Status shownByLibrary(const std::string& path) {
    char why[1024] = {};
    if (TIFFRGBAImageOK(tiff_.get(), why) != 1)
      return Error{Code::unsupported, path, std::string("this kind of TIFF is not read: ") + why};
    header_.channels = kept_.alpha ? 4 : 3;
    header_.wide = false;
    header_.profile.clear();  // it speaks of the samples as kept
    return {};
  }
  base::Status readShown(std::byte* rows, std::string& warning) {
    const std::size_t pixels = std::size_t(header_.size.width) * std::size_t(header_.size.height);
    std::vector<std::uint32_t> shown(pixels);
    if (!TIFFReadRGBAImageOriented(tiff_.get(), kept_.width, kept_.height, shown.data(), header_.orientation, 1)) {
      if (std::all_of(shown.begin(), shown.end(), [](std::uint32_t v) { return v == 0; }))
        return Error{Code::corrupt, "", source_.said("the picture's data is damaged")};
      warning = "the file is damaged or ends early; missing parts are black";
    }
    auto* out = reinterpret_cast<std::uint8_t*>(rows);
    const int ch = header_.channels;
    for (const std::uint32_t v : shown) {
      const std::uint8_t px[4] = {std::uint8_t(TIFFGetR(v)), std::uint8_t(TIFFGetG(v)), std::uint8_t(TIFFGetB(v)),
                                  std::uint8_t(TIFFGetA(v))};
      out = std::copy_n(px, ch, out);
      if (ch == 4) straighten(out - 4, 1, 4);
    }
    return {};
  }

  bool readPart(std::uint32_t left, std::uint32_t top, int plane, std::vector<std::byte>& part) {
    TIFF* t = tiff_.get();
    const tmsize_t bytes = tmsize_t(part.size());
    if (kept_.tiled)
      return TIFFReadEncodedTile(t, TIFFComputeTile(t, left, top, 0, std::uint16_t(plane)), part.data(), bytes) > 0;
    // The last strip of a picture is shorter.
    return TIFFReadEncodedStrip(t, TIFFComputeStrip(t, top, std::uint16_t(plane)), part.data(), bytes) > 0;
  }
  // Samples of one tile or strip to where they belong.
  void take(const std::vector<std::byte>& part, std::uint32_t left, std::uint32_t top, std::uint32_t width, std::uint32_t height,
            int plane, int planes, std::byte* rows, std::vector<float>& band) const {
    const std::size_t partWide = kept_.tiled ? kept_.tileWidth : kept_.width,
                      in = planes > 1 || kept_.planar == PLANARCONFIG_SEPARATE ? 1 : kept_.samples;
    const std::size_t channels = std::size_t(header_.channels), used = in == 1 ? 1 : channels, sample = kept_.bits / 8u;
    for (std::uint32_t y = 0; y < height; ++y) {
      const std::byte* from = part.data() + y * partWide * in * sample;
      for (std::uint32_t x = 0; x < width; ++x) {
        for (std::size_t c = 0; c < used; ++c) {
          const std::byte* value = from + (x * in + c) * sample;
          const std::size_t to = (std::size_t(light_ ? y : top + y) * kept_.width + left + x) * channels + c + std::size_t(plane);
          if (!kept_.floats())
            std::memcpy(rows + to * sample, value, sample);
          else if (light_)
            band[to] = floatAt(value);
          else
            reinterpret_cast<std::uint16_t*>(rows)[to] =
                std::uint16_t(std::lround(std::clamp(floatAt(value), 0.f, 1.f) * 65535.f));
        }
      }
    }
  }
  float floatAt(const std::byte* value) const {
    if (kept_.bits == 32) {
      float f = 0;
      std::memcpy(&f, value, sizeof f);
      return f;
    }
    std::uint16_t h = 0;
    std::memcpy(&h, value, sizeof h);
    return halfToFloat(h);
  }
  void finish(std::uint32_t top, std::uint32_t count, std::byte* rows, std::vector<float>& band, LightRows& light) const {
    const std::size_t pixels = std::size_t(count) * kept_.width, ch = std::size_t(header_.channels);
    std::byte* first = rows + std::size_t(top) * kept_.width * ch * (header_.wide ? 2 : 1);
    if (light_) {
      light.encode(band.data(), pixels, reinterpret_cast<std::uint16_t*>(first));
      std::fill(band.begin(), band.end(), 0.f);
      return;
    }
    if (kept_.photometric == PHOTOMETRIC_MINISWHITE) {
      const std::size_t bytes = pixels * ch * (header_.wide ? 2 : 1), step = header_.wide ? 2 : 1;
      for (std::size_t i = 0; i < bytes; ++i) {
        if (!kept_.alpha || i / step % ch + 1 < ch) first[i] = ~first[i];
      }
    }
    if (!kept_.alpha || !kept_.premultiplied || header_.cmyk) return;
    if (header_.wide)
      straighten(reinterpret_cast<std::uint16_t*>(first), pixels, header_.channels);
    else
      straighten(reinterpret_cast<std::uint8_t*>(first), pixels, header_.channels);
  }

  TiffSource source_;
  std::unique_ptr<TIFF, void (*)(TIFF*)> tiff_;
  Kept kept_;
  bool plain_ = true, light_ = false;
  Header header_;
};

}  // namespace

base::Result<std::unique_ptr<Reader>> openTiff(const std::string& path) {
  auto reader = std::make_unique<TiffReader>(path);
  HSEAM_DO(reader->begin(path));
  return std::unique_ptr<Reader>(std::move(reader));
}

}  // namespace hseam::image::door
