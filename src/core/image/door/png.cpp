#include "core/image/door/png.h"

#include <png.h>

#include <cmath>
#include <csetjmp>
#include <cstdio>
#include <cstring>

#include "core/image/door/metadata.h"
#include "core/image/door/paper.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

struct PngTrouble {
  char text[120] = {};
  bool profile = false;  // its profile was not taken
};

void keepError(png_structp png, png_const_charp text) {
  auto& t = *static_cast<PngTrouble*>(png_get_error_ptr(png));
  std::snprintf(t.text, sizeof t.text, "%s", text);
  png_longjmp(png, 1);
}
void keepWarning(png_structp png, png_const_charp text) {
  if (std::strstr(text, "iCCP")) static_cast<PngTrouble*>(png_get_error_ptr(png))->profile = true;
}

// Names, comments and profiles that are longer than this are not a picture's.
constexpr png_alloc_size_t kLongestChunk = 64u << 20;

// Each function that the library may jump back to has nothing to destroy.
class PngReader final : public Reader {
 public:
  PngReader() : png_(png_create_read_struct(PNG_LIBPNG_VER_STRING, &trouble_, keepError, keepWarning)) {
    if (png_) info_ = png_create_info_struct(png_);
  }
  PngReader(const PngReader&) = delete;
  PngReader& operator=(const PngReader&) = delete;
  ~PngReader() override {
    png_destroy_read_struct(&png_, &info_, nullptr);
    if (file_) std::fclose(file_);
  }
  const Header& header() const override { return header_; }

  base::Status begin(const std::string& path) {
    file_ = std::fopen(path.c_str(), "rb");
    if (!file_) return Error{Code::unreadable, path, "the file may not be read"};
    if (!png_ || !info_) return base::noMemory(path);
    if (!readHead()) return Error{Code::corrupt, path, std::string("the picture's header is damaged: ") + trouble_.text};
    const int kind = png_get_color_type(png_, info_);
    const bool alpha = (kind & PNG_COLOR_MASK_ALPHA) != 0 || png_get_valid(png_, info_, PNG_INFO_tRNS) != 0;
    header_.size = {int(png_get_image_width(png_, info_)), int(png_get_image_height(png_, info_))};
    header_.wide = png_get_bit_depth(png_, info_) == 16;
    header_.channels = ((kind & PNG_COLOR_MASK_COLOR) != 0 ? 3 : 1) + (alpha ? 1 : 0);
    takeProfile();
    png_bytep exif = nullptr;
    png_uint_32 length = 0;
    if (png_get_eXIf_1(png_, info_, &length, &exif) != 0) header_.orientation = orientationIn(exif, length);
    return {};
  }

  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    const std::size_t stride = std::size_t(header_.size.width) * std::size_t(header_.channels) * (header_.wide ? 2 : 1);
    int passes = 0, done = 0;
    const bool starts = startRows(passes);
    for (int pass = 0; starts && pass < passes; ++pass) {
      for (int y = 0; y < header_.size.height; ++y) {
        if (y % 64 == 0 && stop((pass + double(y) / header_.size.height) / passes)) return Error{Code::cancelled, "", "stopped"};
        if (!readRow(reinterpret_cast<png_bytep>(rows) + std::size_t(y) * stride)) {
          if (done == 0) return Error{Code::corrupt, "", std::string("the picture's data is damaged: ") + trouble_.text};
          warning = "the file is damaged or ends early; missing parts are black";
          return {};
        }
        ++done;
      }
    }
    if (!starts) return Error{Code::corrupt, "", std::string("the picture's data is damaged: ") + trouble_.text};
    if (trouble_.profile && header_.profile.empty()) warning = "its colour profile is malformed; the picture is taken as sRGB";
    return {};
  }

 private:
  bool readHead() {
    if (setjmp(png_jmpbuf(png_))) return false;
    png_init_io(png_, file_);
    png_set_user_limits(png_, PNG_UINT_31_MAX, PNG_UINT_31_MAX);  // too large a picture is told by its size
    png_set_chunk_malloc_max(png_, kLongestChunk);
    png_read_info(png_, info_);
    return true;
  }
  bool startRows(int& passes) {
    if (setjmp(png_jmpbuf(png_))) return false;
    png_set_expand(png_);
    if (header_.wide) png_set_swap(png_);
    passes = png_set_interlace_handling(png_);
    png_read_update_info(png_, info_);
    const auto row = std::size_t(header_.size.width) * std::size_t(header_.channels) * (header_.wide ? 2 : 1);
    return png_get_rowbytes(png_, info_) == row;
  }
  bool readRow(png_bytep row) {
    if (setjmp(png_jmpbuf(png_))) return false;
    png_read_row(png_, row, nullptr);
    return true;
  }
  void takeProfile() {
    png_charp name = nullptr;
    int method = 0;
    png_bytep profile = nullptr;
    png_uint_32 length = 0;
    if (png_get_iCCP(png_, info_, &name, &method, &profile, &length) == 0) return;
    const auto* bytes = reinterpret_cast<const std::byte*>(profile);
    header_.profile.assign(bytes, bytes + length);
  }

  PngTrouble trouble_;
  std::FILE* file_ = nullptr;
  png_structp png_;
  png_infop info_ = nullptr;
  Header header_;
};

class PngWriter {
 public:
  explicit PngWriter(Paper& paper) : png_(png_create_write_struct(PNG_LIBPNG_VER_STRING, &trouble_, keepError, keepWarning)) {
    if (png_) info_ = png_create_info_struct(png_);
    if (!info_) return;
    png_set_write_fn(
        png_, &paper,
        [](png_structp png, png_bytep bytes, png_size_t count) { static_cast<Paper*>(png_get_io_ptr(png))->write(bytes, count); },
        [](png_structp) {});
  }
  PngWriter(const PngWriter&) = delete;
  PngWriter& operator=(const PngWriter&) = delete;
  ~PngWriter() { png_destroy_write_struct(&png_, &info_); }
  bool begin(const WriteSpec& w) {
    if (!info_ || setjmp(png_jmpbuf(png_))) return false;
    constexpr int kKinds[] = {PNG_COLOR_TYPE_GRAY, PNG_COLOR_TYPE_GRAY_ALPHA, PNG_COLOR_TYPE_RGB, PNG_COLOR_TYPE_RGB_ALPHA};
    png_set_IHDR(png_, info_, png_uint_32(w.size.width), png_uint_32(w.size.height), w.wide ? 16 : 8, kKinds[w.channels - 1],
                 PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    if (!w.profile.empty())
      png_set_iCCP(png_, info_, "sRGB profile", PNG_COMPRESSION_TYPE_BASE, reinterpret_cast<png_const_bytep>(w.profile.data()),
                   png_uint_32(w.profile.size()));
    if (w.pixelsPerInch > 0) {
      constexpr double kInchesInMetre = 39.37007874;
      const auto perMetre = png_uint_32(std::lround(w.pixelsPerInch * kInchesInMetre));
      png_set_pHYs(png_, info_, perMetre, perMetre, PNG_RESOLUTION_METER);
    }
    png_write_info(png_, info_);
    if (w.wide) png_set_swap(png_);
    return true;
  }
  bool row(const std::byte* samples) {
    if (setjmp(png_jmpbuf(png_))) return false;
    png_write_row(png_, reinterpret_cast<png_const_bytep>(samples));
    return true;
  }
  bool finish() {
    if (setjmp(png_jmpbuf(png_))) return false;
    png_write_end(png_, nullptr);
    return true;
  }
  Error problem(const std::string& path) const {
    return {Code::unwritable, path, std::string("the picture cannot be packed: ") + trouble_.text};
  }

 private:
  PngTrouble trouble_;
  png_structp png_;
  png_infop info_ = nullptr;
};

}  // namespace

base::Result<std::unique_ptr<Reader>> openPng(const std::string& path) {
  auto reader = std::make_unique<PngReader>();
  HSEAM_DO(reader->begin(path));
  return std::unique_ptr<Reader>(std::move(reader));
}

base::Status writePng(const std::string& path, const WriteSpec& w,
                      const std::function<base::Status(int y, std::byte* row)>& next) {
  Paper paper(path);
  if (paper.failed()) return paper.outcome();
  PngWriter writer(paper);
  if (!writer.begin(w)) return writer.problem(path);
  std::vector<std::byte> row(std::size_t(w.size.width) * std::size_t(w.channels) * (w.wide ? 2 : 1));
  for (int y = 0; y < w.size.height && !paper.failed(); ++y) {
    HSEAM_DO(next(y, row.data()));
    if (!writer.row(row.data())) return writer.problem(path);
  }
  if (!paper.failed() && !writer.finish()) return writer.problem(path);
  paper.close();
  return paper.outcome();
}

}  // namespace hseam::image::door
