#include "core/image/door/jpeg.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <csetjmp>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <optional>
#include <string_view>

#include <jpeglib.h>

#include "core/image/door/metadata.h"
#include "core/image/door/paper.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

// The library reports errors by a call that must not return. Each function that jumps back has nothing to destroy.
struct Trap {
  jpeg_error_mgr base;
  std::jmp_buf back;
  char said[JMSG_LENGTH_MAX];
  bool stopped;
};
Trap& trapOf(j_common_ptr info) {
  return *reinterpret_cast<Trap*>(info->err);
}
void leave(j_common_ptr info) {
  Trap& trap = trapOf(info);
  (*info->err->format_message)(info, trap.said);
  std::longjmp(trap.back, 1);
}
void arm(jpeg_error_mgr*& manager, Trap& trap) {
  manager = jpeg_std_error(&trap.base);
  trap.base.error_exit = leave;
  trap.base.output_message = [](j_common_ptr) {};
}

// A picture may come in as many passes as its writer likes, each over all of it: so a small file can keep a reader busy for
// hours.
constexpr int kMostPasses = 500;

class JpegReader final : public Reader {
 public:
  JpegReader() {
    arm(info_.err, trap_);
    jpeg_create_decompress(&info_);
  }
  JpegReader(const JpegReader&) = delete;
  JpegReader& operator=(const JpegReader&) = delete;
  ~JpegReader() override {
    jpeg_destroy_decompress(&info_);
    if (file_) std::fclose(file_);
  }
  const Header& header() const override { return header_; }

  /// The small picture that cameras leave in the file, if it is large enough and of the same shape (some have black bars).
  std::unique_ptr<Reader> leftByCamera(int enough) const {
    auto small = std::make_unique<JpegReader>();
    const auto bytes = thumbnailIn(exif().data(), exif().size());
    if (bytes.empty() || !small->begin(nullptr, bytes, header_.orientation, enough).ok()) return nullptr;
    const base::Size s = small->header_.size;
    const double shape = double(s.width) * info_.image_height / (double(s.height) * info_.image_width);
    if (std::max(s.width, s.height) < enough || std::abs(shape - 1) > 0.015 || small->header_.channels != header_.channels)
      return nullptr;
    small->header_.profile = header_.profile;
    return small;
  }

  base::Status begin(std::FILE* file, std::vector<std::uint8_t> bytes, std::optional<int> orientation, int enough) {
    file_ = file;
    bytes_ = std::move(bytes);
    if (!readHead(enough)) return Error{Code::corrupt, "", std::string("the picture's header is damaged: ") + trap_.said};
    if (info_.num_components != 1 && info_.num_components < 3)
      return Error{Code::unsupported, "", "a JPEG of two channels is not read"};
    header_.size = {int(info_.output_width), int(info_.output_height)};
    header_.channels = info_.num_components == 2 ? 1 : info_.num_components;
    header_.cmyk = info_.num_components == 4;
    header_.orientation = orientation ? *orientation : orientationIn(exif().data(), exif().size());
    takeProfile();
    return {};
  }

  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    stop_ = &stop;
    monitor_.base.progress_monitor = [](j_common_ptr info) { watch(reinterpret_cast<j_decompress_ptr>(info)); };
    monitor_.reader = this;
    info_.progress = &monitor_.base;
    const bool whole = decode(reinterpret_cast<JSAMPLE*>(rows));
    info_.progress = nullptr;
    if (trap_.stopped) return Error{Code::cancelled, "", "stopped"};
    if (!whole && info_.output_scanline == 0)
      return Error{Code::corrupt, "", std::string("the picture's data is damaged: ") + trap_.said};
    if (!whole || trap_.base.num_warnings > 0) warning = "the file is damaged or ends early; missing parts are grey or black";
    return {};
  }

 private:
  struct Monitor {
    jpeg_progress_mgr base;
    JpegReader* reader;
  };
  static void watch(j_decompress_ptr info) {
    JpegReader& reader = *reinterpret_cast<Monitor*>(info->progress)->reader;
    const jpeg_progress_mgr& p = *info->progress;
    const double share =
        (double(p.completed_passes) + double(p.pass_counter) / double(std::max(1L, p.pass_limit))) / std::max(1, p.total_passes);
    if (++reader.asked_ % 16 == 0 && (*reader.stop_)(std::min(1.0, share))) reader.trap_.stopped = true;
    if (info->input_scan_number > kMostPasses) std::strcpy(reader.trap_.said, "it has too many passes");
    if (reader.trap_.stopped || info->input_scan_number > kMostPasses) std::longjmp(reader.trap_.back, 1);
  }

  bool readHead(int enough) {
    if (setjmp(trap_.back)) return false;
    if (file_)
      jpeg_stdio_src(&info_, file_);
    else
      jpeg_mem_src(&info_, bytes_.data(), static_cast<unsigned long>(bytes_.size()));
    jpeg_save_markers(&info_, JPEG_APP0 + 1, 0xffff);
    jpeg_save_markers(&info_, JPEG_APP0 + 2, 0xffff);
    jpeg_read_header(&info_, TRUE);
    if (info_.num_components == 4) info_.out_color_space = JCS_CMYK;
    if (info_.num_components == 3) info_.out_color_space = JCS_RGB;
    const unsigned longer = std::max(info_.image_width, info_.image_height);
    info_.scale_num = info_.scale_denom = 8;
    while (enough > 0 && info_.scale_num > 1 && longer * (info_.scale_num - 1) / 8 >= unsigned(enough)) --info_.scale_num;
    jpeg_calc_output_dimensions(&info_);
    return true;
  }

  bool decode(JSAMPLE* rows) {
    const std::size_t stride = std::size_t(header_.size.width) * std::size_t(header_.channels);
    if (setjmp(trap_.back)) return false;
    jpeg_start_decompress(&info_);
    while (info_.output_scanline < info_.output_height) {
      JSAMPLE* row = rows + std::size_t(info_.output_scanline) * stride;
      jpeg_read_scanlines(&info_, &row, 1);
      // Files with Adobe's marker keep inks turned round.
      for (std::size_t i = 0; header_.cmyk && info_.saw_Adobe_marker && i < stride; ++i) row[i] = JSAMPLE(255 - row[i]);
    }
    return true;
  }

  /// From its TIFF header on; empty if there is none.
  std::basic_string_view<JOCTET> exif() const {
    static constexpr std::array<char, 6> kExif = {'E', 'x', 'i', 'f', 0, 0};
    for (const auto* m = info_.marker_list; m; m = m->next) {
      if (m->marker == JPEG_APP0 + 1 && m->data_length > kExif.size() && std::equal(kExif.begin(), kExif.end(), m->data))
        return {m->data + kExif.size(), m->data_length - kExif.size()};
    }
    return {};
  }
  void takeProfile() {
    JOCTET* icc = nullptr;
    unsigned length = 0;
    if (!jpeg_read_icc_profile(&info_, &icc, &length)) return;
    const auto* bytes = reinterpret_cast<const std::byte*>(icc);
    header_.profile.assign(bytes, bytes + length);
    std::free(icc);
  }

  std::FILE* file_ = nullptr;
  std::vector<std::uint8_t> bytes_;
  Trap trap_{};
  Monitor monitor_{};
  jpeg_decompress_struct info_{};
  Header header_;
  const std::function<bool(double)>* stop_ = nullptr;
  unsigned asked_ = 0;
};

// Where the encoder leaves its bytes: the library's own destination ends the program when a write fails.
struct ToPaper {
  jpeg_destination_mgr base;
  Paper* paper;
  std::array<JOCTET, 65536> buffer;
  void start() {
    base.next_output_byte = buffer.data();
    base.free_in_buffer = buffer.size();
  }
};

class JpegWriter {
 public:
  explicit JpegWriter(Paper& paper) {
    arm(info_.err, trap_);
    jpeg_create_compress(&info_);
    to_.paper = &paper;
    to_.base.init_destination = [](j_compress_ptr info) { reinterpret_cast<ToPaper*>(info->dest)->start(); };
    to_.base.empty_output_buffer = [](j_compress_ptr info) -> boolean {
      auto& to = *reinterpret_cast<ToPaper*>(info->dest);
      to.paper->write(to.buffer.data(), to.buffer.size());
      to.start();
      return TRUE;
    };
    to_.base.term_destination = [](j_compress_ptr info) {
      auto& to = *reinterpret_cast<ToPaper*>(info->dest);
      to.paper->write(to.buffer.data(), to.buffer.size() - to.base.free_in_buffer);
    };
    info_.dest = &to_.base;
  }
  JpegWriter(const JpegWriter&) = delete;
  JpegWriter& operator=(const JpegWriter&) = delete;
  ~JpegWriter() { jpeg_destroy_compress(&info_); }

  bool begin(const WriteSpec& w) {
    if (setjmp(trap_.back)) return false;
    info_.image_width = JDIMENSION(w.size.width);
    info_.image_height = JDIMENSION(w.size.height);
    info_.input_components = w.channels;
    info_.in_color_space = w.channels == 1 ? JCS_GRAYSCALE : JCS_RGB;
    jpeg_set_defaults(&info_);
    jpeg_set_quality(&info_, w.quality, TRUE);
    info_.optimize_coding = TRUE;
    if (w.pixelsPerInch > 0) {
      info_.density_unit = 1;  // px an inch
      info_.X_density = info_.Y_density = UINT16(std::lround(w.pixelsPerInch));
    }
    if (w.quality >= 90) info_.comp_info[0].h_samp_factor = info_.comp_info[0].v_samp_factor = 1;
    jpeg_start_compress(&info_, TRUE);
    if (!w.profile.empty())
      jpeg_write_icc_profile(&info_, reinterpret_cast<const JOCTET*>(w.profile.data()), unsigned(w.profile.size()));
    return true;
  }
  bool row(std::byte* samples) {
    if (setjmp(trap_.back)) return false;
    auto* row = reinterpret_cast<JSAMPLE*>(samples);
    jpeg_write_scanlines(&info_, &row, 1);
    return true;
  }
  bool finish() {
    if (setjmp(trap_.back)) return false;
    jpeg_finish_compress(&info_);
    return true;
  }
  Error problem(const std::string& path) const {
    return {Code::unwritable, path, std::string("the picture cannot be packed: ") + trap_.said};
  }

 private:
  Trap trap_{};
  jpeg_compress_struct info_{};
  ToPaper to_{};
};

base::Result<std::unique_ptr<Reader>> begun(std::unique_ptr<JpegReader> reader, const base::Status& begins,
                                            const std::string& path) {
  if (!begins.ok()) return Error{begins.error().code, path, begins.error().detail};
  return std::unique_ptr<Reader>(std::move(reader));
}

}  // namespace

base::Result<std::unique_ptr<Reader>> openJpeg(const std::string& path, int enough) {
  std::FILE* file = std::fopen(path.c_str(), "rb");
  if (!file) return Error{Code::unreadable, path, "the file may not be read"};
  auto reader = std::make_unique<JpegReader>();
  const auto begins = reader->begin(file, {}, std::nullopt, enough);
  if (begins.ok() && enough > 0) {
    if (auto small = reader->leftByCamera(enough)) return small;
  }
  return begun(std::move(reader), begins, path);
}

base::Result<std::unique_ptr<Reader>> jpegFrom(std::vector<std::uint8_t> bytes, int orientation, int enough) {
  auto reader = std::make_unique<JpegReader>();
  const auto begins = reader->begin(nullptr, std::move(bytes), orientation, enough);
  return begun(std::move(reader), begins, {});
}

base::Status writeJpeg(const std::string& path, const WriteSpec& w,
                       const std::function<base::Status(int y, std::byte* row)>& next) {
  if (w.wide || (w.channels != 1 && w.channels != 3))
    return Error{Code::invalid, path, "JPEG keeps 8 bits of grey or colour, without transparency"};
  Paper paper(path);
  if (paper.failed()) return paper.outcome();
  JpegWriter writer(paper);
  if (!writer.begin(w)) return writer.problem(path);
  std::vector<std::byte> row(std::size_t(w.size.width) * std::size_t(w.channels));
  for (int y = 0; y < w.size.height && !paper.failed(); ++y) {
    HSEAM_DO(next(y, row.data()));
    if (!writer.row(row.data())) return writer.problem(path);
  }
  if (!paper.failed() && !writer.finish()) return writer.problem(path);
  paper.close();
  return paper.outcome();
}

}  // namespace hseam::image::door
