#include "core/image/door/cmyk_jpeg.h"

#include <csetjmp>
#include <cstdio>
#include <cstdlib>

#include <jpeglib.h>

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

// The library reports errors by a call that must not return.
struct Trap {
  jpeg_error_mgr base;
  std::jmp_buf back;
};
void leave(j_common_ptr info) {
  std::longjmp(reinterpret_cast<Trap*>(info->err)->back, 1);
}

class CmykReader final : public Reader {
 public:
  explicit CmykReader(const std::string& path) : file_(std::fopen(path.c_str(), "rb")) {
    info_.err = jpeg_std_error(&trap_.base);
    trap_.base.error_exit = leave;
    trap_.base.output_message = [](j_common_ptr) {};
    jpeg_create_decompress(&info_);
  }
  ~CmykReader() override {
    jpeg_destroy_decompress(&info_);
    if (file_) std::fclose(file_);
  }
  bool begin(int orientation) {
    if (!file_ || setjmp(trap_.back)) return false;
    jpeg_stdio_src(&info_, file_);
    jpeg_save_markers(&info_, JPEG_APP0 + 2, 0xffff);
    jpeg_read_header(&info_, TRUE);
    if (info_.num_components != 4) return false;
    info_.out_color_space = JCS_CMYK;
    header_.size = {int(info_.image_width), int(info_.image_height)};
    header_.channels = 4;
    header_.cmyk = true;
    header_.orientation = orientation;
    JOCTET* icc = nullptr;
    unsigned length = 0;
    if (jpeg_read_icc_profile(&info_, &icc, &length)) {
      const auto* bytes = reinterpret_cast<const std::byte*>(icc);
      header_.profile.assign(bytes, bytes + length);
      std::free(icc);
    }
    return true;
  }
  const Header& header() const override { return header_; }
  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    const std::size_t stride = std::size_t(header_.size.width) * 4;
    if (setjmp(trap_.back)) return Error{Code::corrupt, "", "the picture's data is damaged"};
    jpeg_start_decompress(&info_);
    while (info_.output_scanline < info_.output_height) {
      if (info_.output_scanline % 64 == 0 && stop(double(info_.output_scanline) / info_.output_height))
        return Error{Code::cancelled, "", "stopped"};
      auto* row = reinterpret_cast<JSAMPLE*>(rows + std::size_t(info_.output_scanline) * stride);
      jpeg_read_scanlines(&info_, &row, 1);
      // Files with Adobe's marker keep inks turned round.
      for (std::size_t i = 0; info_.saw_Adobe_marker && i < stride; ++i) row[i] = JSAMPLE(255 - row[i]);
    }
    if (trap_.base.num_warnings > 0) warning = "the file is damaged or ends early; missing parts are grey or black";
    return {};
  }

 private:
  std::FILE* file_;
  Trap trap_{};
  jpeg_decompress_struct info_{};
  Header header_;
};

}  // namespace

base::Result<std::unique_ptr<Reader>> openCmykJpeg(const std::string& path, int orientation) {
  auto reader = std::make_unique<CmykReader>(path);
  if (!reader->begin(orientation)) return Error{Code::corrupt, path, "the picture's header is damaged"};
  return std::unique_ptr<Reader>(std::move(reader));
}

}  // namespace hseam::image::door
